package export

import (
	"cmp"
	"encoding/csv"
	"fmt"
	"io"

	"chamfer/core/plan"
	"chamfer/core/sun"
	"chamfer/draw"
)

// Season are the stretches of a year's work for what grows, of all beds that something is planted in: whole days, with
// the same names from year to year, so that a calendar takes them in anew without doubling them. Of is what their UIDs
// end with.
func Season(p *plan.Plan, of string, year int) (list []Event) {
	for i, g := range p.Growing {
		if len(g.Patches) == 0 {
			continue
		}
		for _, t := range p.SeasonOf(g.Bed, year).All() {
			what := t.Do
			if t.Crop != "" {
				what += ": " + t.Crop
			}
			list = append(list, Event{fmt.Sprintf("%s-%s-%d-%s@chamfer", g.Bed, icsText.Replace(t.Key), year, of),
				p.Say(p.Frames[i].Name + ", " + what), t.From, t.To.AddDate(0, 0, 1), p.Say(t.Why)})
		}
	}
	return list
}

// season writes whole days of work for what grows.
func (c *ics) season(list []Event, stamp func(uid string)) {
	for _, e := range list {
		c.line("BEGIN:VEVENT")
		stamp(e.UID)
		c.line("DTSTART;VALUE=DATE:%s", e.From.Format("20060102"))
		c.line("DTEND;VALUE=DATE:%s", e.To.Format("20060102"))
		c.line("SUMMARY:%s", icsText.Replace(e.Title))
		c.line("DESCRIPTION:%s", icsText.Replace(e.Why))
		c.line("TRANSP:TRANSPARENT")
		c.line("END:VEVENT")
	}
}

// writeYear writes the work of the year that is asked for, else of the one that the sun is reckoned for.
func writeYear(w io.Writer, p *plan.Plan, a Asked) error {
	c := openICS("the year")
	c.season(Season(p, cmp.Or(a.Ends, "file"), cmp.Or(a.Year, p.Light().Year)), func(uid string) {
		c.line("UID:%s", uid)
		c.line("DTSTAMP:20000101T000000Z")
	})
	return c.close(w)
}

func writeSun(w io.Writer, p *plan.Plan, _ Asked) error {
	l := p.Light()
	on := sun.Date{Year: l.Year, Month: sun.Growing(l.Place.Lat)[1], Day: 15}
	things := l.Things(p, true)
	m := p.SunMap(40, 30, l.Month(on.Month), l.Things(p, false))
	return writeDrawing(w, p, draw.Sunlit(p, m, l, sun.At(l.Place, on, 15), things, onPaper))
}

// writeCrops writes what grows, patch by patch, with what is sown or bought for it.
func writeCrops(w io.Writer, p *plan.Plan) error {
	c := csv.NewWriter(w)
	rows := [][]string{{"bed", "beds", "crop", "id", "plants", "seeds", "set", "x_mm", "y_mm", "wide_mm", "deep_mm",
		"sun_hours"}}
	for i, g := range p.Growing {
		for _, x := range g.Patches {
			seeds, set := x.Seeds()
			times := p.Frames[i].Times
			rows = append(rows, []string{p.Frames[i].Name, fmt.Sprint(times), x.Crop.Name, x.Crop.ID,
				fmt.Sprint(times * x.Plants()), numbered(times * seeds), numbered(times * set),
				millimetres(x.Lo.U), millimetres(x.Lo.V), millimetres(x.Hi.U - x.Lo.U), millimetres(x.Hi.V - x.Lo.V),
				fmt.Sprintf("%.1f", x.Hours)})
		}
	}
	return finish(c, rows)
}
