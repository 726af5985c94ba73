package plan

import (
	"math"
	"slices"
	"strconv"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/measure"
	"chamfer/core/money"
	"chamfer/core/record"
)

// Recorded is one thing of the balance beside what became of it.
type Recorded struct {
	Balanced
	Good   record.Good
	Packs  int          // taken in the shop, of any size
	took   int64        // that they hold
	Paid   money.Amount // for those, where prices were written down
	Really int64        // used, where what was left is known
	Known  bool
	Wide   [2]float64 // planned and really used, of the larger of the two: for drawing them side by side
}

// Record holds what was written down of things to the balance.
func (p *Plan) Record(list []record.Good) (rows []Recorded) {
	sold := p.packsOf()
	for _, b := range p.Balance() {
		r := Recorded{Balanced: b}
		for _, g := range list {
			holds, of := sold[g.Item]
			if of = of && holds.fixing == b.Item; of || g.Item == b.Item {
				r.Packs += g.Packs
				if !of {
					holds.count = b.Pack
				}
				r.took += int64(g.Packs) * holds.count
				if g.Paid != nil {
					r.Paid += g.Paid.Times(g.Packs)
				}
			}
			if g.Item == b.Item {
				r.Good = g
				r.Really, r.Known = g.Used()
			}
		}
		if most := float64(max(b.Used, r.Really)); most > 0 {
			r.Wide = [2]float64{float64(b.Used) / most, float64(r.Really) / most}
		}
		rows = append(rows, r)
	}
	return rows
}

// packed is a pack of a fixing.
type packed struct {
	fixing string
	count  int64
}

// packsOf are the packs that fixings come in, by the shop's number.
func (p *Plan) packsOf() map[string]packed {
	of := map[string]packed{}
	for _, f := range p.Shop.Catalog.Fixings {
		for _, k := range f.Packs {
			of[k.SKU] = packed{f.ID, int64(k.Count)}
		}
	}
	return of
}

// Learns is what the record of a workshop makes of its habits: of several jobs where there are several. Sunk and trials
// are theirs, cut and spoilt the pieces of their boards.
func (s Shop) Learns(goods []record.Good, sunk []record.Sank, trials []record.Trial, saw []design.Sawn) (
	list []record.Estimate) {
	h, usual := s.Habits, s.Catalog.Habits
	var screws []record.Good
	for _, g := range goods {
		if slices.ContainsFunc(s.Catalog.Fixings, func(f catalog.Fixing) bool { return f.ID == g.Item }) {
			screws = append(screws, g)
		}
	}
	add := func(e record.Estimate, known bool) {
		if known {
			list = append(list, e)
		}
	}
	add(record.Spare(screws, usual.SparePerMille, h.SparePerMille))
	add(record.Settling(sunk, usual.SettlingPerMille, h.SettlingPerMille))
	add(record.Kerf(trials, usual.Kerf, h.Kerf))
	cut, spoilt := 0, 0
	for _, b := range saw {
		for _, c := range b.Cuts {
			cut += c.Times()
			if c.Waste {
				spoilt += c.Times()
			}
		}
	}
	add(record.Spoilt(cut, spoilt, usual.SpoiltPerMille, h.SpoiltPerMille))
	return list
}

// Learnt is habits with one of what was learnt taken over.
func Learnt(h catalog.Habits, e record.Estimate) catalog.Habits {
	switch e.Key {
	case "spare":
		h.SparePerMille = e.PerMille()
	case "settling":
		h.SettlingPerMille = e.PerMille()
	case "kerf":
		h.Kerf = e.Length()
	case "spoilt":
		h.SpoiltPerMille = e.PerMille()
	}
	return h
}

// Deep is how deep a bed's soil lies when it is filled: what it sinks is held to that.
func (p *Plan) Deep(bed string) (deep measure.Length) {
	for _, l := range p.Fill.Laid {
		if l.Bed == bed {
			deep += l.Depth
		}
	}
	if deep == 0 {
		if b, err := p.Design.Bed(bed); err == nil {
			deep = b.Soil
		}
	}
	return deep
}

// Had is how much of it there was: what was really taken where that is written down, or what was planned, and what was
// there already.
func (r Recorded) Had() int64 {
	if r.Packs > 0 && r.took > 0 {
		return r.took + r.Owned
	}
	return r.Bought + r.Owned
}

// LeftText writes what is left of it as it is read: pieces, a length, or packs; "" where nobody said.
func (r Recorded) LeftText(p *Plan) string {
	switch {
	case r.Good.Left == nil:
		return ""
	case r.Unit == "pieces":
		return strconv.FormatInt(*r.Good.Left, 10)
	case r.Unit == "length":
		return p.Shop.Precision().Short(measure.Length(*r.Good.Left))
	case r.Pack == 0:
		return "0"
	}
	return strconv.FormatFloat(math.Round(1000*float64(*r.Good.Left)/float64(r.Pack))/1000, 'f', -1, 64)
}
