package fixing

import (
	"fmt"
	"strings"

	"chamfer/core/catalog"
	"chamfer/core/cost"
	"chamfer/core/measure"
	"chamfer/core/money"
	"chamfer/core/why"
)

// Screws is the number of screws and bolts in the joints.
func (p Plan) Screws() int {
	n := 0
	for _, need := range p.Needs {
		if need.Fixing.Kind != catalog.Washer {
			n += need.Count
		}
	}
	return n
}

// Why is how the number of screws and bolts comes about.
func (p Plan) Why() why.Why {
	var steps []why.Step
	for _, n := range p.Needs {
		if n.Fixing.Kind == catalog.Washer {
			continue
		}
		var uses []why.Term
		for _, u := range n.Uses {
			uses = append(uses, why.Times(why.Count(u.Joints).Called("joints"), why.Count(u.Each)))
		}
		steps = append(steps, why.Step{Name: n.Fixing.Name, Of: why.Sum(uses...), As: why.Number})
	}
	return why.Why{
		Steps:  why.Added("together", why.Number, steps...),
		Rule:   "So many to a joint by the board's width, along a cap by its length.",
		Source: Source,
	}
}

// Lines are the boxes and fittings that are bought.
func (p Plan) Lines(
	spare int,
	own func(sku string) bool,
	price func(sku string, listed money.Amount) money.Amount,
) []cost.Line {
	var list []cost.Line
	for _, n := range p.Needs {
		for _, k := range n.Packs {
			list = append(list, cost.Line{Group: cost.Fixings, SKU: k.Pack.SKU, Item: n.Fixing.Name, Quantity: k.N,
				Unit: fmt.Sprintf(
					"box of %d",
					k.Pack.Count,
				), Price: price(k.Pack.SKU, k.Pack.Price), Own: own(k.Pack.SKU),
				Why: n.words(spare)})
		}
	}
	for _, r := range p.Ready {
		unit := "piece"
		if r.Fitting.Pack > 1 {
			unit = fmt.Sprintf("pack of %d", r.Fitting.Pack)
		}
		list = append(list, cost.Line{Group: cost.Fixings, SKU: r.Fitting.ID, Item: r.Fitting.Name, Quantity: r.Packs,
			Unit: unit, Price: price(r.Fitting.ID, r.Fitting.Price), Own: own(r.Fitting.ID), Why: strings.Join(r.Why,
				"; ")})
	}
	return list
}

// words say how the number of one kind came about; spare is the share of them in
// thousandths.
func (n Need) words(spare int) string {
	list := fmt.Sprintf("%s and %d %% spare, %d", measure.Count(n.Count, n.Fixing.Noun()), spare/10, n.Buy+n.Have)
	if n.Have > 0 {
		list += fmt.Sprintf(", %d of all these yours", n.Have)
	}
	if n.Yields {
		list += ", fewer spares than that so that no other box is opened for them"
	}
	return list + "; the cheapest boxes that hold them"
}
