package water

import (
	"fmt"

	"chamfer/core/cost"
	"chamfer/core/measure"
	"chamfer/core/money"
	"chamfer/core/why"
)

// Packs is how many are bought of a part: rolls of what is cut, packs of what is counted.
func (p Part) Packs() int {
	if p.Length > 0 {
		return int((p.Length + p.Fitting.Each - 1) / p.Fitting.Each)
	}
	return (p.Count + p.Fitting.Pack - 1) / p.Fitting.Pack
}

// Lines are what is bought for the drip.
func (p Plan) Lines(pr measure.Precision, own func(sku string) bool,
	price func(sku string, listed money.Amount) money.Amount) []cost.Line {
	var list []cost.Line
	for _, x := range p.Parts {
		unit, said := "piece", fmt.Sprint(x.Count)
		switch {
		case x.Length > 0:
			unit, said = "roll", pr.Feet(x.Length)
		case x.Fitting.Pack > 1:
			unit = fmt.Sprintf("pack of %d", x.Fitting.Pack)
		}
		list = append(list, cost.Line{Group: cost.Water, SKU: x.Fitting.ID, Item: x.Fitting.Name, Quantity: x.Packs(),
			Unit: unit, Price: price(x.Fitting.ID, x.Fitting.Price), Own: own(x.Fitting.ID), Why: said + ": " + x.For})
	}
	return list
}

// Litres writes so many of them in a system's units.
func Litres(l float64, sys measure.System) string {
	if sys == measure.Imperial {
		return fmt.Sprintf("%.1f gal", l/3.785411784)
	}
	return fmt.Sprintf("%.0f l", l)
}

// Figures are those of the water, with how each came about.
func (p Plan) Figures(mm float64, s why.Style) []why.Figure {
	var list []why.Figure
	for _, b := range p.Beds {
		name := b.Name
		if b.N > 0 {
			name += fmt.Sprintf(", number %d", b.N+1)
		}
		week := s.Figure("", name+", in a dry week", why.Why{
			Steps: []why.Step{why.Given("planted", why.Face(b.Area)),
				why.Given("off grass a day", why.Of(why.Length, mm/1000)),
				{Of: why.Over(why.Times(why.Face(b.Area), why.Of(why.Length, mm/1000), why.Count(7),
					why.Of(why.Number, grown).Called("vegetables"), why.Of(why.Number, walled).Called("a bed above ground")),
					why.Of(why.Number, b.reaches()).Called("reaches the roots")), As: why.Volume}},
			Rule: "What grass gives off in a dry week at midsummer, a little more for vegetables and for the bed's sides." +
				" Rain is taken off it.",
			Source: "FAO-56 Tables 2 and 12 (from memory); common practice"})
		week.Text = Litres(b.Week, s.System)
		list = append(list, week)
		if b.By == "sprinkler" {
			tin := why.Of(why.Length, b.Tin(p.Days)/1000)
			list = append(list, s.Figure("", fmt.Sprintf("%s, a run, %d days a week: tins hold", name, p.Days), why.Why{
				Steps: []why.Step{why.Given("in the week", why.Room(measure.CubicMetres(b.Week/1000))),
					why.Given("planted", why.Face(b.Area)), why.Given("days", why.Count(p.Days)), {Of: tin, As: why.Length}},
				Rule: "What a bed needs in a week over its surface, shared out over the days. Five tins with straight sides on" +
					" the bed say when it is there: no two sprinklers give the same.",
				Source: "common practice"}))
		}
	}
	for k, z := range p.Zones {
		label := "a run"
		if len(p.Zones) > 1 {
			label = fmt.Sprintf("a run of group %d", k+1)
		}
		runs := fmt.Sprintf("%d min", z.Round())
		if z.Starts > 1 {
			runs = fmt.Sprintf("%d times %d min, an hour apart", z.Starts, z.Round())
		}
		list = append(list, why.Figure{Label: label + fmt.Sprintf(", %d days a week", p.Days), Text: runs,
			Value: z.Minutes, As: why.Number, Why: why.Why{
				Given: []string{Litres(z.Flow, s.System) + " an hour out of its emitters",
					fmt.Sprintf("of %s an hour the tap gives", Litres(p.Supply, s.System)),
					fmt.Sprintf("%.1f kPa of %.0f lost to the last emitter, a fifth may be", Kilopascals(z.Lost),
						Kilopascals(p.Head))},
				Rule: "What its beds need in a week by what comes out, shared out over the days; in two starts where it" +
					" comes faster than soil takes it.",
				Result: runs, Source: "Keller & Bliesner (from memory) for pipe; common practice"}})
	}
	return list
}

// Short reports whether the zone's beds take more than the tap may be counted on for; that is one bed alone.
func (p Plan) Short(z Zone) bool { return z.Flow > p.Supply }

// Weak reports whether more of the head is lost on the way to a zone's last emitter than may be.
func (p Plan) Weak(z Zone) bool { return z.Lost > allowed*p.Head }

// opens is the head below which a timer with a diaphragm does not open, kPa (common practice).
const opens = 10

// Trickles reports whether the head is too low for most timers.
func (p Plan) Trickles() bool { return p.Drip && Kilopascals(p.Head) < opens }
