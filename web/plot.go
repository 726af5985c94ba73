package web

import (
	"fmt"
	"html/template"
	"slices"
	"strings"

	"chamfer/core/design"
	"chamfer/draw"
)

// plotView is the ground the beds stand on: what is decided about it, and where
// the bed in hand stands.
type plotView struct {
	Fields   []fieldView
	Fences   []choiceView
	WasFence string
	Stands   []standView // of the bed in hand
	More     int
}

type standView struct {
	Stand  string // "b1:0"
	Name   string
	X, Y   string
	Set    bool
	Turned bool
	Error  string
}

// plot draws the plot and shows its decisions.
func (b *benchPage) plot(no refused) {
	l, pr := b.Plan.Site, b.Plan.Shop.Precision()
	pick := strings.ReplaceAll(b.Link("bed", "WHICH"), "%", "%%")
	pick = strings.Replace(pick, "WHICH", "%s", 1)
	sheet := draw.Sheet{W: 860, H: 470, Font: 17, Pick: pick, Held: b.Bed}
	b.Wide = template.HTML(draw.Plot(b.Plan, sheet))
	sheet.W, sheet.H, sheet.Font = 360, 320, 14
	b.Narrow = template.HTML(draw.Plot(b.Plan, sheet))
	v := &plotView{More: l.More, WasFence: strings.Join(l.Plot.Fences, ",")}
	add := func(f fieldView) {
		f.ID = "plot-" + strings.TrimPrefix(f.Key, "plot:")
		for _, ch := range f.Choices {
			if ch.Checked {
				f.Text = ch.Value
			}
		}
		no.fill(&f)
		v.Fields = append(v.Fields, f)
	}
	add(
		fieldView{
			Key:   "plot:width",
			Label: "Plot, from left to right",
			Kind:  design.LengthField,
			Text:  pr.Feet(l.Plot.Width),
		},
	)
	add(
		fieldView{
			Key:   "plot:depth",
			Label: "Plot, from front to back",
			Kind:  design.LengthField,
			Text:  pr.Feet(l.Plot.Depth),
		},
	)
	add(
		fieldView{
			Key:   "plot:north",
			Label: "North, degrees from straight up",
			Kind:  design.NumberField,
			Text:  fmt.Sprint(l.Plot.North),
			Help: "Clockwise: 90 is to the right. Tall things go on the north side, south of the equator on the" +
				" south side.",
		},
	)
	passage := fieldView{
		Key:   "plot:passage",
		Label: "Who goes between the beds",
		Kind:  design.ChoiceField,
		Help:  "It decides how wide the paths are.",
	}
	for _, c := range []design.Choice{{Value: "foot", Label: "on foot"}, {Value: "barrow", Label: "with a barrow"},
		{Value: "mower", Label: "with a mower"}, {Value: "wheelchair", Label: "in a wheelchair"}} {
		c.Note = "paths of " + pr.Feet(b.Plan.Shop.Catalog.Passages[c.Value])
		passage.Choices = append(passage.Choices, &choiceView{Choice: c, Checked: c.Value == l.Plot.Passage})
	}
	add(passage)
	for _, e := range design.Edges {
		v.Fences = append(
			v.Fences,
			choiceView{Choice: design.Choice{Value: e, Label: e}, Checked: slices.Contains(l.Plot.Fences, e)},
		)
	}
	times := map[string]int{}
	for _, s := range l.Stands {
		times[s.Bed]++
	}
	for i, s := range l.Stands {
		if s.Bed != b.Bed || len(v.Stands) >= 12 {
			continue
		}
		sv := standView{
			Stand:  fmt.Sprintf("%s:%d", s.Bed, s.N),
			Name:   fmt.Sprintf("%d. %s", i+1, s.Name),
			X:      pr.Feet(s.Lo.U),
			Y:      pr.Feet(s.Lo.V),
			Set:    s.Set,
			Turned: s.Turned,
		}
		if times[s.Bed] > 1 {
			sv.Name += fmt.Sprintf(", %d", s.N+1)
		}
		if typed, ok := no.values[fmt.Sprintf("place:%d", s.N)]; ok {
			sv.X, sv.Y, _ = strings.Cut(typed, ";")
			sv.Error = no.why(fmt.Sprintf("place:%d", s.N))
		}
		v.Stands = append(v.Stands, sv)
	}
	b.Plot = v
}
