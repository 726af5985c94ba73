package export

import (
	"fmt"
	"io"
	"strings"

	"chamfer/core/plan"
	"chamfer/core/water"
)

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
	for n, r := range p.Water.Runs() {
		z := p.Water.Zones[r.Zone]
		var names []string
		for _, i := range z.Beds {
			names = append(names, p.Water.Beds[i].Name)
		}
		line("BEGIN:VEVENT")
		line("UID:watering-%d@chamfer", n+1)
		line("DTSTAMP:20000101T000000Z")
		line("DTSTART:20000103T%02d%02d00", r.Start/60%24, r.Start%60)
		line("DURATION:PT%dM", r.Minutes)
		line("RRULE:FREQ=WEEKLY;BYDAY=%s", strings.Join(p.Water.Weekdays(), ","))
		line("SUMMARY:%s", escape.Replace(p.Say("Water "+strings.Join(names, ", "))))
		line("DESCRIPTION:%s", escape.Replace(p.Say(fmt.Sprintf("%d min, %s", r.Minutes,
			water.Litres(z.Flow*float64(r.Minutes)/60, p.Shop.Catalog.System)))))
		line("END:VEVENT")
	}
	line("END:VCALENDAR")
	_, err := io.WriteString(w, b.String())
	return err
}
