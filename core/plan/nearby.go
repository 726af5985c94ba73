package plan

import (
	"chamfer/core/design"
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
func Nearby(p *Plan, bed, field string, step measure.Length, each int) []Near {
	b, err := p.Design.Bed(bed)
	if err != nil {
		return nil
	}
	f, ok := design.FieldOf(*b, field)
	if !ok || f.Kind != design.LengthField || step <= 0 {
		return nil
	}
	now := f.LengthOf(*b)
	var list []Near
	for k := -each; k <= each; k++ {
		at := now
		if k != 0 { // whole steps, whatever odd size is in hand
			at = now/step*step + measure.Length(k)*step
			if k < 0 && now%step != 0 {
				at += step
			}
		}
		if at <= 0 {
			continue
		}
		q := p
		if k != 0 {
			d, err := design.Apply(p.Design, p.Shop.Catalog, design.Edit{Bed: bed, Field: field, Value: at.String()})
			if err != nil {
				continue
			}
			if q, err = reckon(d, p.Shop); err != nil || q.unmet() {
				continue
			}
		}
		list = append(list, Near{Length: at, Timber: q.Timber(), Total: q.Bill.Total, More: q.Bill.Total - p.Bill.Total, Waste: q.Waste(), Now: k == 0})
	}
	for i := range list {
		list[i].Sweet = i+1 < len(list) && list[i+1].Timber > list[i].Timber
	}
	return list
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

// Waste is the share of the timber bought, by length, that is no piece: kerfs
// and offcuts, in per cent, rounded to the nearest.
func (p *Plan) Waste() int {
	var bought, used measure.Length
	for _, c := range p.Cuts {
		for _, b := range c.Answer.Boards {
			bought += b.Stock.Length * measure.Length(b.Count)
			for _, cut := range b.Cuts {
				used += cut.Length * measure.Length(b.Count)
			}
		}
	}
	if bought == 0 {
		return 0
	}
	return int((200*(bought-used)/bought + 1) / 2)
}
