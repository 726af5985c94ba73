package export

import (
	"encoding/csv"
	"fmt"
	"io"

	"chamfer/core/plan"
	"chamfer/core/sun"
	"chamfer/draw"
)

// writeYear writes the work of the year that is asked for, else of the one that the sun is reckoned for, of all
// beds: whole days with the same names from year to year, so that a calendar takes it in anew without doubling it.
func writeYear(w io.Writer, p *plan.Plan, a Asked) error {
	c := openICS("the year")
	year := a.Year
	if year == 0 {
		year = p.Light().Year
	}
	for i := range p.Frames {
		f := &p.Frames[i]
		for _, t := range p.SeasonOf(f.Bed, year).All() {
			what := t.Do
			if t.Crop != "" {
				what += ": " + t.Crop
			}
			c.line("BEGIN:VEVENT")
			c.line("UID:%s-%s-%d@chamfer", f.Bed, icsText.Replace(t.Key), year)
			c.line("DTSTAMP:20000101T000000Z")
			c.line("DTSTART;VALUE=DATE:%s", t.From.Format("20060102"))
			c.line("DTEND;VALUE=DATE:%s", t.To.AddDate(0, 0, 1).Format("20060102"))
			c.line("SUMMARY:%s", icsText.Replace(p.Say(f.Name+", "+what)))
			c.line("DESCRIPTION:%s", icsText.Replace(p.Say(t.Why)))
			c.line("TRANSP:TRANSPARENT")
			c.line("END:VEVENT")
		}
	}
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
