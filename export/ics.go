package export

import (
	"fmt"
	"io"
	"strings"

	"chamfer/core/plan"
	"chamfer/core/water"
)

// Weekdays on which is watered so many times a week, spread out, as calendars write them.
func Weekdays(n int) []string {
	days := []string{"MO", "TU", "WE", "TH", "FR", "SA", "SU"}
	var list []string
	for k := range n {
		list = append(list, days[k*len(days)/n])
	}
	return list
}

// FirstRun is when timers start: at dawn, before the sun takes any of it.
const FirstRun = "06:00"

// writeWatering writes the runs of the drip as a calendar (RFC 5545), from a Monday on, with floating
// times.
func writeWatering(w io.Writer, p *plan.Plan) error {
	var b strings.Builder
	line := func(format string, args ...any) {
		text := fmt.Sprintf(format, args...)
		for len(text) > 73 { // lines are folded, whole letters
			at := 73
			for at > 0 && text[at]&0xC0 == 0x80 {
				at--
			}
			b.WriteString(text[:at] + "\r\n ")
			text = text[at:]
		}
		b.WriteString(text + "\r\n")
	}
	escape := strings.NewReplacer(`\`, `\\`, ";", `\;`, ",", `\,`, "\n", `\n`)
	line("BEGIN:VCALENDAR")
	line("VERSION:2.0")
	line("PRODID:-//Chamfer//watering//EN")
	for k, z := range p.Water.Zones {
		var names []string
		for _, i := range z.Beds {
			names = append(names, p.Water.Beds[i].Name)
		}
		for s := range z.Starts {
			line("BEGIN:VEVENT")
			line("UID:watering-%d-%d@chamfer", k+1, s+1)
			line("DTSTAMP:20000101T000000Z")
			minute := 360 + 75*s + k*10
			line("DTSTART:20000103T%02d%02d00", minute/60, minute%60)
			line("DURATION:PT%dM", z.Round())
			line("RRULE:FREQ=WEEKLY;BYDAY=%s", strings.Join(Weekdays(p.Water.Days), ","))
			line("SUMMARY:%s", escape.Replace(p.Say("Water "+strings.Join(names, ", "))))
			line("DESCRIPTION:%s", escape.Replace(p.Say(fmt.Sprintf("%d min, %s", z.Round(),
				water.Litres(z.Flow*float64(z.Round())/60, p.Shop.Catalog.System)))))
			line("END:VEVENT")
		}
	}
	line("END:VCALENDAR")
	_, err := io.WriteString(w, b.String())
	return err
}
