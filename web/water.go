package web

import (
	"context"
	"fmt"
	"html/template"
	"strings"

	"chamfer/core/design"
	"chamfer/core/plan"
	"chamfer/core/water"
	"chamfer/draw"
)

// waterStage is how the beds are watered.
var waterStage = stage{Key: "water", Name: "Water", About: "How much, and how it gets there", Decides: true,
	Tells: []string{"drip-short", "drip-far", "drip-trickle", "not-laid-out"},
	Draws: (*benchPage).waterDrawing, Fields: (*benchPage).waterFields,
	Under: "under-water", Caption: "the plot from above", Saves: "water.svg",
	Body: func(_ context.Context, s *Server, b *benchPage, no refused) (any, error) {
		b.Water.Timer, b.Water.Probe = s.reads.Timer != "", s.reads.Probe != ""
		b.Water.Error = no.why("timer")
		return nil, nil
	}}

// waterView is what is decided about the water, and what is laid.
type waterView struct {
	Fields       []fieldView
	Right, Out   string // of the tap
	TapError     string
	Parts        []partTold
	Drip         bool
	Timer, Probe bool
	Error        string
}

type partTold struct{ Name, Count, For string }

// waterDrawing draws where the water goes.
func (b *benchPage) waterDrawing(refused) {
	pick := strings.ReplaceAll(b.Link("bed", "WHICH"), "%", "%%")
	pick = strings.Replace(pick, "WHICH", "%s", 1)
	b.Wide = template.HTML(draw.Water(b.Plan, draw.Sheet{W: 860, H: 500, Font: 17, Pick: pick, Held: b.Bed}))
	b.Narrow = template.HTML(draw.Water(b.Plan, draw.Sheet{W: 360, H: 360, Font: 14, Pick: pick, Held: b.Bed}))
}

// waterFields are the decisions about the water of all beds.
func (b *benchPage) waterFields(no refused) {
	w := b.Plan.Design.WaterOr(b.Plan.Shop.Catalog)
	pr := b.Plan.Shop.Precision()
	v := &waterView{Drip: b.Plan.Water.Drip, Right: pr.Feet(w.TapRight), Out: pr.Feet(w.TapOut)}
	b.Water = v
	if typed, ok := no.values["water:tap"]; ok {
		v.Right, v.Out, _ = strings.Cut(typed, ";")
		v.TapError = no.why("water:tap")
	}
	weather := fieldView{ID: "water-weather", Key: "water:weather", Label: "A dry week at midsummer is",
		Kind: design.ChoiceField, Text: w.Weather}
	for _, c := range design.WaterWeathers {
		cv := &choiceView{Choice: c, Checked: c.Value == w.Weather}
		if !cv.Checked {
			b.ask(func(o plan.Outcome) { cv.Effect = effect(o.Changes) },
				design.Edit{Field: "water:weather", Value: c.Value})
		}
		weather.Choices = append(weather.Choices, cv)
	}
	for _, f := range []fieldView{weather,
		{ID: "water-flow", Key: "water:flow", Label: "A bucket at the tap fills", Kind: design.TextField, Text: w.Flow,
			Help: "Write 10 l in 25 s, or 5 gal in 38 s. Three quarters of that are planned on."},
		{ID: "water-head", Key: "water:head", Label: "A butt stands above the beds", Kind: design.LengthField,
			Text: pr.Feet(w.Head), Help: "0 takes the house's pressure, through a regulator."},
		{ID: "water-days", Key: "water:days", Label: "Days a week", Kind: design.NumberField, Text: fmt.Sprint(w.Days)}} {
		no.fill(&f)
		v.Fields = append(v.Fields, f)
	}
	for _, x := range b.Plan.Water.Parts {
		t := partTold{Name: x.Fitting.Name, Count: fmt.Sprint(x.Count), For: x.For}
		if x.Length > 0 {
			t.Count = pr.Feet(x.Length)
		}
		v.Parts = append(v.Parts, t)
	}
}

// Litres writes water in the project's units.
func (b *benchPage) Litres(l float64) string { return water.Litres(l, b.Plan.Shop.Catalog.System) }
