package draw

import (
	"fmt"
	"time"

	"chamfer/core/plan"
	"chamfer/core/planting"
)

// Year draws a season's work as one strip a crop: sowing inside, sowing, setting out, growing and harvest along the
// weeks, with the last and the first frost across all of them.
func Year(rows []YearRow, f planting.Frosts, s Sheet) string {
	d := &page{}
	left := min(s.W*0.26, 190)
	tall, top := s.Font*1.9, s.Font*2.2
	if s.W < 500 {
		left, tall = 104, s.Font*2.1
	}
	h := top + float64(len(rows))*tall + s.Font*0.8
	from := f.Last.AddDate(0, 0, -84)
	from = time.Date(from.Year(), from.Month(), 1, 0, 0, 0, 0, time.UTC)
	to := f.First.AddDate(0, 0, 77)
	days := to.Sub(from).Hours() / 24
	x := func(t time.Time) float64 {
		return left + min(max(t.Sub(from).Hours()/24, 0), days)/days*(s.W-left-6)
	}
	d.open(s.W, h, "the year, crop by crop", s.Own)
	for t := from; t.Before(to); t = t.AddDate(0, 1, 0) {
		d.add(`<path class="d-ext" d="M%s %sV%s"/>`, n(x(t)), n(top-8), n(h))
		if next := x(t.AddDate(0, 1, 0)); next-x(t) > textWidth("Mar", s.Font*0.8) {
			d.text("d-text d-name", pt{(x(t) + next) / 2, top - 12}, s.Font*0.8, 0, t.Format("Jan"))
		}
	}
	for k, r := range rows {
		y := top + float64(k)*tall
		name := r.Name
		size := s.Font * 0.88
		for len(name) > 4 && textWidth(name, size) > left-8 {
			name = name[:len(name)-1]
		}
		d.add(`<text class="d-text d-start" x="2" y="%s" font-size="%s">%s</text>`, n(y+tall*0.62), n(size), esc(name))
		d.add(`<path class="d-ext" d="M%s %sH%s"/>`, n(left), n(y+tall), n(s.W-6))
		for _, t := range r.Tasks {
			class := map[string]string{"sow inside": "d-inside", "sow": "d-sown", "sow again": "d-sown", "plant": "d-sown",
				"sow for autumn": "d-sown", "set out": "d-set", "harvest": "d-harvest"}[t.Do]
			if class == "" {
				class = "d-done"
			}
			a, b := x(t.From), max(x(t.To.AddDate(0, 0, 1)), x(t.From)+3)
			d.add(`<rect class="%s" x="%s" y="%s" width="%s" height="%s" rx="2"><title>%s</title></rect>`, class, n(a),
				n(y+tall*0.22), n(b-a), n(tall*0.56), esc(fmt.Sprintf("%s: %s, %s to %s", r.Name, t.Do, t.From.Format("2 Jan"),
					t.To.Format("2 Jan"))))
		}
	}
	for _, t := range []time.Time{f.Last, f.First} {
		d.add(`<path class="d-frost" d="M%s %sV%s"/>`, n(x(t)), n(top-6), n(h))
	}
	return d.close()
}

// YearRows are the strips of crops, and of the bed last.
func YearRows(crops []plan.CropYear, bed []planting.Task) (rows []YearRow) {
	for _, c := range crops {
		rows = append(rows, YearRow{c.Name, c.Tasks})
	}
	return append(rows, YearRow{"the bed", bed})
}

// YearRow is one strip.
type YearRow struct {
	Name  string
	Tasks []planting.Task
}
