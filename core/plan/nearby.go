package plan

import (
	"cmp"
	"context"
	"math"
	"slices"

	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
	"chamfer/core/money"
)

// Near is what a size close to the one in hand would come to.
type Near struct {
	Length measure.Length
	Timber money.Amount
	Total  money.Amount
	More   money.Amount // than now; negative where it is less
	Waste  int          // per cent of the timber bought that is no piece
	Sweet  bool         // the longest size at its price of timber
	Now    bool
}

// Nearby plans a length field of a bed at every step on either side of what it
// is. Sizes that cannot be built are left out.
func Nearby(ctx context.Context, p *Plan, bed, field string, step measure.Length, each int) []Near {
	b, err := p.Design.Bed(bed)
	if err != nil {
		return nil
	}
	f, ok := design.FieldOf(*b, field)
	if !ok || f.Kind != design.LengthField || step <= 0 {
		return nil
	}
	now := f.LengthOf(*b)
	whole := true // steps are counted from nothing; others from the size in hand
	if system, _ := design.SystemNamed(b.System); system.Apart != nil {
		if apart := system.Apart(*b, p.Shop.Catalog, field); apart > 0 {
			step, each, whole = apart, min(each, 6), false
		}
	}
	each = max(1, min(each, p.askable()/4))
	key := nearKey{bed, field, step, each}
	if list, ok := p.answered.nearOf(key); ok {
		return list
	}
	near, sizes := make([]*Near, 2*each+1), p.asking()
	faults := tried(ctx, len(near), func(i int) { // a size that brings a fault is left out as one that cannot be built
		if ctx.Err() != nil {
			return
		}
		k := i - each
		at := now
		if k != 0 && !whole {
			at = now + measure.Length(k)*step
		} else if k != 0 { // whole steps, whatever odd size is in hand
			at = now/step*step + measure.Length(k)*step
			if k < 0 && now%step != 0 {
				at += step
			}
		}
		if at <= 0 {
			return
		}
		if k == 0 {
			near[i] = &Near{Length: at, Timber: p.Timber(), Total: p.Bill.Total, Waste: p.Waste(), Now: true}
			return
		}
		d, err := design.Apply(p.Design, p.Shop.Catalog, design.Edit{Bed: bed, Field: field, Value: at.String()})
		if err != nil {
			return
		}
		size, err := sizes.of(d, func() (sized, error) {
			q, err := reckon(ctx, d, p.Shop.asked(), p)
			if err != nil && ctx.Err() != nil {
				return sized{}, err // nobody waits for it: it may be one that can be built
			}
			if err != nil || q.unmet() {
				return sized{}, nil
			}
			return sized{Near{Timber: q.Timber(), Total: q.Bill.Total, Waste: q.Waste()}, true}, nil
		})
		if err == nil && size.ok {
			size.Length, size.More = at, size.Total-p.Bill.Total
			near[i] = &size.Near
		}
	})
	var list []Near
	for _, n := range near {
		if n != nil {
			list = append(list, *n)
		}
	}
	for i := range list {
		list[i].Sweet = i+1 < len(list) && list[i+1].Timber > list[i].Timber
	}
	if ctx.Err() == nil && faults == nil {
		p.answered.keepNear(key, list)
	}
	return list
}

// Sweets picks the no-waste sizes nearest to the one in hand, at most n, shortest
// first.
func Sweets(near []Near, n int) []Near {
	var list []Near
	now := measure.Length(0)
	for _, k := range near {
		switch {
		case k.Now:
			now = k.Length
		case k.Sweet:
			list = append(list, k)
		}
	}
	away := func(k Near) measure.Length { return max(k.Length-now, now-k.Length) }
	slices.SortStableFunc(list, func(a, b Near) int { return cmp.Compare(away(a), away(b)) })
	list = list[:min(n, len(list))]
	slices.SortFunc(list, func(a, b Near) int { return cmp.Compare(a.Length, b.Length) })
	return list
}

// Step is how far apart the sizes on the rule stand: an inch, or 25 mm.
func (s Shop) Step() measure.Length {
	if s.Catalog.System == measure.Metric {
		return 25 * measure.Millimetre
	}
	return measure.Inch
}

// Nudged is where a length field goes one step of the precision up or down ("+",
// "-"), or to the next no-waste size ("++", "--"); false where it stays.
func Nudged(p *Plan, bed, field, by string) (measure.Length, bool) {
	b, err := p.Design.Bed(bed)
	if err != nil {
		return 0, false
	}
	f, ok := design.FieldOf(*b, field)
	if !ok || f.Kind != design.LengthField {
		return 0, false
	}
	now, step := f.LengthOf(*b), p.Shop.Precision().Step
	to := now
	switch by {
	case "+":
		to = now + step
	case "-":
		to = max(0, now-step)
	case "++", "--":
		for _, k := range Nearby(context.Background(), p, bed, field, p.Shop.Step(), 24) {
			if k.Sweet && by == "++" && k.Length > now {
				return k.Length, true
			}
			if k.Sweet && by == "--" && k.Length < now {
				to = k.Length
			}
		}
	}
	return to, to != now
}

// Dragged is where a length field goes when its wall is dragged by so many
// millimetres, at the precision of the workshop; false for what is no length or
// no distance in a garden.
func Dragged(b design.Bed, shop Shop, field string, millimetres float64) (measure.Length, bool) {
	f, ok := design.FieldOf(b, field)
	if !ok || f.Kind != design.LengthField || !(math.Abs(millimetres) <= measure.MaxLength.Millimetres()) {
		return 0, false
	}
	by := measure.Length(millimetres * float64(measure.Millimetre))
	return max(0, shop.Precision().Round(f.LengthOf(b)+by)), true
}

func (p *Plan) unmet() bool {
	for _, c := range p.Cuts {
		if len(c.Answer.Unmet) > 0 {
			return true
		}
	}
	return false
}

// Timber is what all boards cost.
func (p *Plan) Timber() money.Amount {
	var sum money.Amount
	for _, c := range p.Cuts {
		sum += c.Answer.Cost
	}
	return sum
}

// Waste is the share of the wood of the boards that are cut that is no piece: kerfs, offcuts
// and what is ripped off, in per cent, rounded to the nearest.
func (p *Plan) Waste() int {
	bought, used := p.sawnWood()
	if bought == 0 {
		return 0
	}
	return int(math.Round(100 * (1 - float64(used)/float64(bought))))
}

// sawnWood is how much wood there is in the boards that are cut, and in the pieces that come
// out of them.
func (p *Plan) sawnWood() (bought, used measure.Volume) {
	for _, c := range p.Cuts {
		for _, b := range c.Answer.Boards {
			full := c.Profile.Width
			if b.Stock.Width > 0 {
				full = b.Stock.Width
			}
			n := measure.Volume(b.Count)
			bought += measure.Over(b.Stock.Length, full).By(c.Profile.Thickness) * n
			for _, cut := range b.Cuts {
				used += measure.Over(cut.Length, cut.Wide(full)).
					By(c.Profile.Thickness) *
					n * measure.Volume(
					max(1, cut.Out),
				)
			}
		}
	}
	return bought, used
}

// StandMoved is where a bed on the plot comes to when it is moved by so many
// millimetres to the right and away.
func StandMoved(p *Plan, stand int, right, away float64) frame.Spot {
	mm := float64(measure.Millimetre)
	return p.Site.Moved(stand, frame.Spot{U: measure.Length(right * mm), V: measure.Length(away * mm)}, p.Shop.Step())
}
