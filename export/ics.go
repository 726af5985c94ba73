package export

import (
	"fmt"
	"io"
	"strings"
	"time"

	"chamfer/core/plan"
	"chamfer/core/water"
)

// ics writes a calendar (RFC 5545), its lines folded at whole letters.
type ics struct{ b strings.Builder }

var icsText = strings.NewReplacer(`\`, `\\`, ";", `\;`, ",", `\,`, "\n", `\n`)

func openICS(what string) *ics {
	c := &ics{}
	c.line("BEGIN:VCALENDAR")
	c.line("VERSION:2.0")
	c.line("PRODID:-//Chamfer//%s//EN", what)
	return c
}

func (c *ics) line(format string, args ...any) {
	text := fmt.Sprintf(format, args...)
	for len(text) > 73 {
		at := 73
		for at > 0 && text[at]&0xC0 == 0x80 {
			at--
		}
		c.b.WriteString(text[:at] + "\r\n ")
		text = text[at:]
	}
	c.b.WriteString(text + "\r\n")
}

func (c *ics) close(w io.Writer) error {
	c.line("END:VCALENDAR")
	_, err := io.WriteString(w, c.b.String())
	return err
}

// icsLocal and icsUTC are how it writes times, on the clock of a place and of the world.
const icsLocal, icsUTC = "20060102T150405", "20060102T150405Z"

// zone writes what the clock of a place does in some years, one change after the other; it reports whether it knows the
// place.
func (c *ics) zone(name string, from, to int) bool {
	loc, err := time.LoadLocation(name)
	if name == "" || err != nil {
		return false
	}
	offset := func(seconds int) string {
		sign := '+'
		if seconds < 0 {
			sign, seconds = '-', -seconds
		}
		return fmt.Sprintf("%c%02d%02d", sign, seconds/3600, seconds/60%60)
	}
	observe := func(at time.Time, before int) {
		name, now := at.Zone()
		kind := "STANDARD"
		if at.IsDST() {
			kind = "DAYLIGHT"
		}
		c.line("BEGIN:%s", kind)
		c.line("DTSTART:%s", at.UTC().Add(time.Duration(before)*time.Second).Format(icsLocal)) // by the clock before
		c.line("TZOFFSETFROM:%s", offset(before))
		c.line("TZOFFSETTO:%s", offset(now))
		c.line("TZNAME:%s", name)
		c.line("END:%s", kind)
	}
	c.line("BEGIN:VTIMEZONE")
	c.line("TZID:%s", name)
	at := time.Date(from, 1, 1, 0, 0, 0, 0, time.UTC).In(loc)
	_, before := at.Zone()
	observe(at, before)
	for end := time.Date(to+1, 1, 1, 0, 0, 0, 0, time.UTC); at.Before(end); at = at.Add(time.Hour) {
		if _, now := at.Zone(); now != before { // the hour in which it changes: find the minute
			change := at.Add(-time.Hour)
			for {
				if _, is := change.Zone(); is != before {
					break
				}
				change = change.Add(time.Minute)
			}
			observe(change, before)
			before = now
		}
	}
	c.line("END:VTIMEZONE")
	return true
}

// writeWatering writes the runs of the drip as a calendar, from a Monday on, with floating times.
func writeWatering(w io.Writer, p *plan.Plan) error {
	c := openICS("watering")
	for n, r := range p.Water.Runs() {
		z := p.Water.Zones[r.Zone]
		var names []string
		for _, i := range z.Beds {
			names = append(names, p.Water.Beds[i].Name)
		}
		c.line("BEGIN:VEVENT")
		c.line("UID:watering-%d@chamfer", n+1)
		c.line("DTSTAMP:20000101T000000Z")
		c.line("DTSTART:20000103T%02d%02d00", r.Start/60%24, r.Start%60)
		c.line("DURATION:PT%dM", r.Minutes)
		c.line("RRULE:FREQ=WEEKLY;BYDAY=%s", strings.Join(p.Water.Weekdays(), ","))
		c.line("SUMMARY:%s", icsText.Replace(p.Say("Water "+strings.Join(names, ", "))))
		c.line("DESCRIPTION:%s", icsText.Replace(p.Say(fmt.Sprintf("%d min, %s", r.Minutes,
			water.Litres(z.Flow*float64(r.Minutes)/60, p.Shop.Catalog.System)))))
		c.line("END:VEVENT")
	}
	return c.close(w)
}
