package plan

import (
	"fmt"
	"math"
	"strings"

	"chamfer/core/aside"
	"chamfer/core/cost"
	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
	"chamfer/core/money"
	"chamfer/core/review"
)

// Figure is one number of the tally that is always in sight: its text, the
// number behind it (for differences), and how it came about.
type Figure struct {
	Key, Label string
	Text       string
	Value      float64
	Why        review.Why
}

// Figure returns a figure of the tally by its key.
func (p *Plan) Figure(key string) Figure {
	for _, f := range p.Tally {
		if f.Key == key {
			return f
		}
	}
	return Figure{}
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
func (p *Plan) Screws() int {
	n := 0
	for _, need := range p.Fixings.Needs {
		if need.Fixing.Kind != "washer" {
			n += need.Count
		}
	}
	return n
}

// unitsLast is how many years blocks and bricks last out of doors, at least and at
// most (common practice).
var unitsLast = [2]int{30, 60}

// Life is the range of years the shortest-lived bed lasts.
func (p *Plan) Life() (least, most int) {
	least, most = math.MaxInt, math.MaxInt
	for i := range p.Design.Beds {
		if p.Frames[i].Masonry() {
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

func (p *Plan) tally() {
	sys, pr, cur := p.Shop.Catalog.System, p.Shop.Precision(), p.Shop.Currency()
	least, most := p.Life()
	add := func(key, label, text string, value float64, why review.Why) {
		p.Tally = append(p.Tally, Figure{key, label, text, value, why})
	}
	area := p.Area()
	add("area", "planting", sys.Area(area), float64(area), review.Why{
		Given: p.openings(), Rule: "Clear length times clear width, inside the cap or the walls.", Result: sys.Area(area) + ".", Source: "geometry"})
	p.Tally = append(p.Tally, p.depthFigure())
	cutWhy := p.claim()
	if p.Units() > 0 {
		add("units", "blocks", fmt.Sprint(p.Units()), float64(p.Units()), review.Why{
			Given: p.unitsLaid(), Rule: "Units in every course, as they bond; cut ones from whole ones; one in twenty spare.",
			Result: fmt.Sprintf("%d to buy.", p.Units()), Source: "geometry; the spare is common practice"})
	}
	if p.Boards() > 0 || p.Units() == 0 && !p.Frames[0].Masonry() {
		p.tallyBoards(add, pr, cutWhy)
	}
	add("soil", "soil to order", sys.Volume(p.Fill.Order), float64(p.Fill.Order), review.Why{
		Given:  []string{sys.Volume(p.Fill.Gross) + " between the walls", sys.Volume(p.Fill.Gross-p.Fill.Net) + " taken by posts"},
		Rule:   fmt.Sprintf("What is left, and %d %% more because loose soil settles.", p.Fill.Settling/10),
		Result: sys.Volume(p.Fill.Order) + ", " + measure.Count(p.Fill.Barrows, "barrow-load") + ".", Source: "settling 10-20 % of depth: common practice; your habits"})
	add("weight", "wet soil", sys.Mass(p.Fill.WetMass), float64(p.Fill.WetMass), review.Why{
		Given: []string{sys.Volume(p.Fill.Net) + " settled"}, Rule: fmt.Sprintf("At %.0f kg/m³ (%.0f lb/cu ft) when wet.", p.Fill.Way().Fill.WetDensity, p.Fill.Way().Fill.WetDensity/16.01846),
		Result: sys.Mass(p.Fill.WetMass) + ".", Source: p.Fill.Way().Fill.Source})
	label, rule := "total", "The bill added up."
	if len(p.Bill.Without) > 0 {
		label, rule = "total of the rest", "The bill added up, without what cannot be had: "+strings.Join(p.Bill.Without, "; ")+"."
	}
	add("total", label, cur.Format(p.Bill.Total), float64(p.Bill.Total), review.Why{
		Given: []string{"timber " + cur.Format(p.Bill.Of(cost.Timber)), "blocks and base " + cur.Format(p.Bill.Of(cost.Masonry)), "fixings " + cur.Format(p.Bill.Of(cost.Fixings)),
			"sheets " + cur.Format(p.Bill.Of(cost.Sheets)), "soil " + cur.Format(p.Bill.Of(cost.Soil)), "tax " + cur.Format(p.Bill.Tax)},
		Rule: rule, Result: cur.Format(p.Bill.Total) + ".", Source: "the shop's prices, and your own where you gave them"})
	add("years", "years", fmt.Sprintf("%d–%d", least, most), float64(least), p.lifeWhy(least, most))
}

// depthFigure is the soil's depth: of several beds the least and the most. Its number is
// the sum, so that a change of one bed is told as what it is.
func (p *Plan) depthFigure() Figure {
	pr := p.Shop.Precision()
	f := Figure{Key: "soil-depth", Label: "soil depth", Text: "none", Why: review.Why{Rule: "Whole courses are stacked until they reach the soil and what is kept below the rim.", Source: "geometry"}}
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
		f.Value += float64(b.Soil)
		words := pr.Feet(b.Soil) + " of soil, " + pr.Feet(b.Freeboard) + " below the rim"
		if len(p.Design.Beds) > 1 {
			words = b.Name + ": " + words
		}
		stacked := "cast as high as that"
		if u, err := p.Shop.Catalog.Unit(first(x.Units)); err == nil {
			stacked, f.Why.Source = measure.Count(x.Courses(), "course of "+u.Name+", "+pr.Short(u.Course())+" high with its joint"), u.Source
		} else if board, err := p.Shop.Catalog.Profile(b.Board); err == nil && len(x.Parts) > 0 {
			stacked, f.Why.Source = measure.Count(x.Courses(), "course of "+board.Name+", really "+pr.Short(board.Width)+" wide"), board.Source
		}
		f.Why.Given = append(f.Why.Given, words, stacked+": walls "+pr.Feet(x.Rim))
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

// tallyBoards are the figures of what is sawn and screwed.
func (p *Plan) tallyBoards(add func(key, label, text string, value float64, why review.Why), pr measure.Precision, cutWhy string) {
	add("boards", "boards", fmt.Sprint(p.Boards()), float64(p.Boards()), review.Why{
		Given:  []string{measure.Count(p.pieces(), "piece"), "kerf " + p.Shop.Habits.Kerf.String(), "the car takes " + pr.Feet(p.Shop.Habits.Carry)},
		Rule:   "Pieces and a kerf between each two fit the board; the lengths are chosen for the least total price.",
		Result: cutWhy, Source: "linear program over all ways to cut a board (Gilmore and Gomory 1961) and a search; the bound is reckoned in whole numbers"})
	if p.Screws() == 0 && p.Units() > 0 {
		return // it is laid, not screwed
	}
	add("screws", "fixings", fmt.Sprint(p.Screws()), float64(p.Screws()), review.Why{
		Given: []string{measure.Count(p.joints(), "joint")}, Rule: "So many to a joint by the board's width, along a cap by the foot.",
		Result: fmt.Sprintf("%d screws and bolts.", p.Screws()), Source: "common practice"})
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

// openings lists the beds' clear sizes, for reading.
func (p *Plan) openings() []string {
	var list []string
	pr := p.Shop.Precision()
	for _, b := range p.Design.Beds {
		s := pr.Feet(b.Length) + " by " + pr.Feet(b.Width) + " clear"
		if b.Times() > 1 {
			s = fmt.Sprintf("%d of %s", b.Times(), s)
		}
		list = append(list, s)
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

func (p *Plan) joints() int {
	n := 0
	for _, f := range p.Frames {
		n += len(f.Joints) * f.Times
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
	sys, pr, cur := after.Shop.Catalog.System, after.Shop.Precision(), after.Shop.Currency()
	for _, a := range after.Tally {
		b := before.Figure(a.Key)
		d := a.Value - b.Value
		if d == 0 {
			continue
		}
		var size string
		switch m := math.Abs(d); a.Key {
		case "area":
			size = sys.Area(measure.Area(m))
		case "soil-depth":
			size = pr.Feet(measure.Length(m))
		case "soil":
			size = sys.Volume(measure.Volume(m))
		case "weight":
			size = sys.Mass(measure.Mass(m))
		case "total":
			size = cur.Format(money.Amount(m))
		default:
			size = fmt.Sprintf("%.0f", m)
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
	d, err := design.Apply(now.Design, now.Shop.Catalog, edits...)
	if err != nil {
		return nil, err
	}
	then, err := reckon(d, now.Shop.asked(), now)
	if err != nil {
		return nil, err
	}
	then.tally()
	return Changes(now, then), nil
}

// Outcome is what one of several what-ifs came to.
type Outcome struct {
	Changes []Change
	Err     error
	Unasked bool // the project is too large to ask them all
}

// WhatIfs plans many changed copies at once, as [WhatIf] does one: as many as a plan of
// this size is asked for one page. A fault in one of them is its answer, as an
// [*aside.Fault], and no other's.
func WhatIfs(now *Plan, asks [][]design.Edit) []Outcome {
	out := make([]Outcome, len(asks))
	n := min(len(asks), now.askable())
	for i := n; i < len(asks); i++ {
		out[i].Unasked = true
	}
	for i, fault := range aside.Do(n, func(i int) { out[i].Changes, out[i].Err = WhatIf(now, asks[i]...) }) {
		if fault != nil {
			out[i] = Outcome{Err: fault}
		}
	}
	return out
}
