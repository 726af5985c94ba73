package plan

import (
	"context"
	"fmt"
	"math"
	"reflect"
	"strings"

	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
	"chamfer/core/money"
	"chamfer/core/why"
)

// Figure returns a figure of the tally by its key.
func (p *Plan) Figure(key string) why.Figure {
	for _, f := range p.Tally {
		if f.Key == key {
			return f
		}
	}
	return why.Figure{}
}

// Area is the clear planting area of all beds.
func (p *Plan) Area() measure.Area {
	var a measure.Area
	for i := range p.Frames {
		a += p.Frames[i].PlantingArea() * measure.Area(p.Frames[i].Times)
	}
	return a
}

// Boards is the number of boards to buy.
func (p *Plan) Boards() int {
	n := 0
	for _, c := range p.Cuts {
		n += len(c.Sawn)
		for _, b := range c.Answer.Boards {
			if !strings.HasPrefix(b.Stock.ID, HandStock) && !strings.HasPrefix(b.Stock.ID, PieceStock) {
				n += b.Count
			}
		}
	}
	return n
}

// Screws is the number of screws and bolts in the joints.
func (p *Plan) Screws() int { return p.Fixings.Screws() }

// unitsLast is how many years blocks and bricks last out of doors, at least and at
// most (common practice).
var unitsLast = [2]int{30, 60}

// Life is the range of years the shortest-lived bed lasts.
func (p *Plan) Life() (least, most int) {
	least, most = math.MaxInt, math.MaxInt
	for i := range p.Design.Beds {
		if p.Frames[i].Lasts() {
			least, most = min(least, unitsLast[0]), min(most, unitsLast[1])
		}
		if w, ok := p.woodOf(i); ok {
			l, m := w.Years()
			least, most = min(least, l), min(most, m)
		}
	}
	return least, most
}

// PerArea is the total for one square foot or square metre of planting.
func (p *Plan) PerArea() money.Amount {
	if p.Shop.Catalog.System == measure.Metric {
		return p.Bill.Total.Per(p.Area().SquareMetres())
	}
	return p.Bill.Total.Per(p.Area().SquareFeet())
}

// AreaUnit names the unit of PerArea.
func (p *Plan) AreaUnit() string {
	if p.Shop.Catalog.System == measure.Metric {
		return "m²"
	}
	return "sq ft"
}

// PerYear is the total for one year of the bed's life, at best and at worst.
func (p *Plan) PerYear() (best, worst money.Amount) {
	least, most := p.Life()
	return p.Bill.Total.Per(float64(most)), p.Bill.Total.Per(float64(least))
}

// tally reckons the figures that are always in sight.
func (p *Plan) tally() {
	st := p.Style()
	add := func(key, label string, w why.Why) { p.Tally = append(p.Tally, st.Figure(key, label, w)) }
	add("area", "planting", why.Why{Steps: frame.Planting(p.Frames), Rule: openRule, Source: "geometry"})
	p.Tally = append(p.Tally, p.depthFigure())
	if p.Units() > 0 {
		add("units", "blocks", why.Why{Given: p.unitsLaid(), Steps: p.Laying.Counted(),
			Rule:   "Units in every course, as they bond; cut ones from whole ones; one in twenty spare.",
			Source: "geometry; the spare is common practice"})
	}
	if p.pieces() > 0 {
		add("boards", "boards", p.boardsWhy())
		if p.Screws() > 0 || p.Units() == 0 { // else it is laid, not screwed
			add("screws", "fixings", p.Fixings.Why())
		}
	}
	add("soil", "soil to order", p.Fill.OrderWhy(p.Frames))
	add("weight", "wet soil", p.Fill.WetWhy(p.Shop.Catalog))
	label, rule := "total", "The bill added up."
	if len(p.Bill.Without) > 0 {
		label = "total of the rest"
		rule = "The bill added up, without what cannot be had: " + strings.Join(p.Bill.Without, "; ") + "."
	}
	add("total", label, why.Why{Steps: p.Bill.Added(), Rule: rule,
		Source: "the shop's prices, and your own where you gave them"})
	least, most := p.Life()
	p.Tally = append(p.Tally, why.Figure{Key: "years", Label: "years", As: why.Years,
		Text: fmt.Sprintf("%d–%d", least, most), Value: float64(least), Why: p.lifeWhy(least, most)})
}

// boardsWhy is how the number of boards comes about.
func (p *Plan) boardsWhy() why.Why {
	var steps []why.Step
	for _, c := range p.Cuts {
		name := c.Profile.Name + ", " + lower(c.Species.Name)
		if n := len(c.Sawn); n > 0 {
			steps = append(steps, why.Given(name+", sawn already", why.Count(n)))
		}
		counts := map[string]int{}
		for _, b := range c.Answer.Boards {
			counts[b.Stock.ID] += b.Count
		}
		for i, s := range c.Request.Stock {
			if n := counts[s.ID]; n > 0 && !strings.HasPrefix(s.ID, HandStock) && !strings.HasPrefix(s.ID, PieceStock) {
				steps = append(steps, why.Given(name+", "+c.Offers[i].Label, why.Count(n)))
				delete(counts, s.ID)
			}
		}
	}
	pr := p.Shop.Precision()
	return why.Why{
		Given: []string{measure.Count(p.pieces(), "piece"), "kerf " + p.Shop.Habits.Kerf.In(p.Shop.Catalog.System),
			"the car takes " + pr.Feet(p.Shop.Habits.Carry)},
		Steps:  why.Added("together", why.Number, steps...),
		Rule:   "Pieces and a kerf between each two fit the board; the lengths are chosen for the least total price.",
		Result: p.claim(),
		Source: "linear program over all ways to cut a board (Gilmore and Gomory 1961) and a search;" +
			" the bound is reckoned in whole numbers"}
}

// depthFigure is the soil's depth: of several beds the least and the most. Its number is
// the sum, so that a change of one bed is told as what it is.
func (p *Plan) depthFigure() why.Figure {
	pr := p.Shop.Precision()
	f := why.Figure{Key: "soil-depth", Label: "soil depth", Text: "none", As: why.Length, Why: why.Why{
		Rule:   "Whole courses are stacked until they reach the soil and what is kept below the rim.",
		Source: "geometry"}}
	var least, most measure.Length
	for i, b := range p.Design.Beds {
		x := &p.Frames[i]
		if len(x.Cavities) == 0 {
			continue
		}
		if least == 0 || b.Soil < least {
			least = b.Soil
		}
		most = max(most, b.Soil)
		f.Value += b.Soil.Metres()
		words := pr.Feet(b.Soil) + " of soil, " + pr.Feet(b.Freeboard) + " below the rim"
		if len(p.Design.Beds) > 1 {
			words = b.Name + ": " + words
		}
		stacked, rim := "cast as high as that", x.Rim
		if n := len(x.Pours); n > 0 {
			rim = x.Pours[n-1].To - x.Pours[n-1].Ground
		}
		if len(x.Levels) > 0 && len(x.Pours) > 0 {
			stacked = "cast as high as its level stands above the one below"
		}
		if u, err := p.Shop.Catalog.Unit(first(x.Units)); err == nil {
			stacked, f.Why.Source = measure.Count(
				x.Courses(),
				"course of "+u.Name+", "+pr.Short(u.Course())+" high with its joint",
			), u.Source
		} else if board, err := p.Shop.Catalog.Profile(b.Board); err == nil && len(x.Parts) > 0 {
			stacked, f.Why.Source = measure.Count(x.Courses(),
				"course of "+board.Name+", really "+pr.Short(board.Width)+" wide"), board.Source
		}
		f.Why.Given = append(f.Why.Given, words, stacked+": walls "+pr.Feet(rim))
	}
	switch {
	case least < most:
		f.Text = pr.Feet(least) + "–" + pr.Feet(most)
	case most > 0:
		f.Text = pr.Feet(most)
	}
	f.Why.Result = f.Text + " of soil."
	return f
}

// first is the catalogue ID of the first of some units, "" for none.
func first(units []frame.Unit) string {
	if len(units) == 0 {
		return ""
	}
	return units[0].SKU
}

// Units is how many blocks and bricks are bought.
func (p *Plan) Units() int {
	n := 0
	for _, c := range p.Laying.Units {
		n += c.Buy
	}
	return n
}

// unitsLaid lists how many units are laid in which way, for reading.
func (p *Plan) unitsLaid() []string {
	var list []string
	for _, c := range p.Laying.Units {
		for _, k := range c.Kinds {
			words := fmt.Sprintf("%d × %s, %s", k.Count, c.Unit.Name, k.Name)
			if k.Cut > 0 {
				words += " to " + p.Shop.Precision().Short(k.Cut)
			}
			list = append(list, words)
		}
	}
	return list
}

func (p *Plan) pieces() int {
	n := 0
	for _, f := range p.Frames {
		n += len(f.Parts) * f.Times
	}
	return n
}

// Change is how one figure of the tally moves.
type Change struct {
	Key, Label string
	Text       string // "+$12.40", "−2"
	Up         bool
}

// Changes compares two plans figure by figure, leaving out what stays.
func Changes(before, after *Plan) []Change {
	var list []Change
	st := after.Style()
	for _, a := range after.Tally {
		d := a.Value - before.Figure(a.Key).Value
		if d == 0 {
			continue
		}
		size := st.Write(a.As, math.Abs(d))
		if a.As == why.Years {
			size = fmt.Sprintf("%.0f", math.Abs(d))
		}
		if !strings.ContainsAny(size, "123456789½¼¾⅛⅜⅝⅞") {
			continue // less than is written
		}
		sign := "+"
		if d < 0 {
			sign = "−"
		}
		label := a.Label
		if size == "1" { // one board, one year
			label = strings.TrimSuffix(label, "s")
		}
		list = append(list, Change{a.Key, label, sign + size, d > 0})
	}
	return list
}

// WhatIf plans a changed copy and tells how the tally would move. Refusals come
// back as errors.
func WhatIf(now *Plan, edits ...design.Edit) ([]Change, error) {
	o := whatIf(context.Background(), now, edits...)
	return o.Changes, o.Err
}

// whatIf is WhatIf as an outcome, with whether anything would be built otherwise.
func whatIf(ctx context.Context, now *Plan, edits ...design.Edit) (o Outcome) {
	d, err := design.Apply(now.Design, now.Shop.Catalog, edits...)
	if err != nil {
		return Outcome{Err: err}
	}
	then, err := reckon(ctx, d, now.Shop.asked(), now)
	if err != nil {
		return Outcome{Err: err}
	}
	then.tally()
	o.Changes = Changes(now, then)
	o.Same = len(o.Changes) == 0 && reflect.DeepEqual(now.Frames, then.Frames)
	return o
}

// Outcome is what one of several what-ifs came to.
type Outcome struct {
	Changes []Change
	Err     error
	Same    bool // the same would be built of the same
	Unasked bool // the project is too large to ask them all
}

// WhatIfs plans many changed copies at once, as [WhatIf] does one: as many as a plan of
// this size is asked for one page, and none once ctx is done. A fault in one of them is its answer, as an
// [*aside.Fault], and no other's.
func WhatIfs(ctx context.Context, now *Plan, asks [][]design.Edit) []Outcome {
	out := make([]Outcome, len(asks))
	n := min(len(asks), now.askable())
	for i := n; i < len(asks); i++ {
		out[i].Unasked = true
	}
	for i, fault := range tried(ctx, n, func(i int) {
		if ctx.Err() != nil {
			out[i].Unasked = true
			return
		}
		if o, ok := now.answered.outcome(asks[i]); ok {
			out[i] = o
			return
		}
		if out[i] = whatIf(ctx, now, asks[i]...); ctx.Err() == nil {
			now.answered.keep(asks[i], out[i])
		}
	}) {
		if fault != nil {
			out[i] = Outcome{Err: fault}
		}
	}
	return out
}
