package plan

import (
	"fmt"

	"chamfer/core/catalog"
	"chamfer/core/fill"
	"chamfer/core/measure"
	"chamfer/core/work"
)

// Balanced is one thing that is bought or owned, and where it goes: what the steps use, what
// is spare, and what is left of the last pack. Bought and owned together are what is used,
// spare and left. What is counted is in pieces, what runs in nanometres, what fills in cubic
// millimetres.
type Balanced struct {
	Item, Name        string
	Unit              string // "pieces", "length" or "volume"
	Bought, Owned     int64
	Used, Spare, Left int64
	Pack              int64 // the largest that one pack holds
}

// Words writes an amount of it.
func (b Balanced) Words(p *Plan, n int64) string {
	switch b.Unit {
	case "length":
		return p.Shop.Precision().Feet(measure.Length(n))
	case "volume":
		return p.Shop.Catalog.System.Volume(measure.Volume(n))
	case "g", "ml":
		return fill.Forked{Of: catalog.Booster{Unit: b.Unit}, Amount: int(n)}.Words(p.Shop.Catalog.System)
	}
	return fmt.Sprint(n)
}

// Balance is everything bought and owned, held to what the steps use.
func (p *Plan) Balance() []Balanced {
	used := map[string]work.Use{}
	for _, s := range p.Steps {
		for _, u := range s.Uses {
			all := used[u.Item]
			used[u.Item] = work.Use{
				Item:   u.Item,
				Count:  all.Count + u.Count,
				Length: all.Length + u.Length,
				Volume: all.Volume + u.Volume,
			}
		}
	}
	var list []Balanced
	add := func(b Balanced) {
		b.Left = b.Bought + b.Owned - b.Used - b.Spare
		list = append(list, b)
	}
	mine := func(b Balanced, packs int) { // of so many packs those that are there already need no buying
		if n := min(p.Design.Have[b.Item], packs); n > 0 {
			b.Owned = b.Bought * int64(n) / int64(packs)
			b.Bought -= b.Owned
		}
		add(b)
	}
	for _, c := range p.Cuts {
		bought := c.Answer.Bought()
		sku, spare := p.spareBoards(c)
		for i, s := range c.Request.Stock {
			if n := int64(bought[s.ID]); n > 0 || spare > 0 && s.ID == sku {
				b := Balanced{
					Item:   s.ID,
					Name:   c.Profile.Name + ", " + c.Offers[i].Label,
					Unit:   "pieces",
					Bought: n,
					Used:   int64(used[s.ID].Count),
					Pack:   1,
				}
				if Owned(s.ID) {
					b.Bought, b.Owned = 0, n
				}
				if s.ID == sku {
					b.Bought, b.Spare = b.Bought+int64(spare), int64(spare)
				}
				add(b)
			}
		}
	}
	for _, n := range p.Fixings.Needs {
		b := Balanced{
			Item:  n.Fixing.ID,
			Name:  n.Fixing.Name,
			Unit:  "pieces",
			Owned: int64(n.Have),
			Used:  int64(used[n.Fixing.ID].Count),
			Spare: int64(n.Buy + n.Have - n.Count),
		}
		for _, k := range n.Packs {
			b.Bought += int64(k.N * k.Pack.Count)
			b.Pack = max(b.Pack, int64(k.Pack.Count))
		}
		add(b)
	}
	for _, r := range p.Fixings.Ready {
		u := used[r.Fitting.ID]
		b := Balanced{
			Item:   r.Fitting.ID,
			Name:   r.Fitting.Name,
			Unit:   "pieces",
			Bought: int64(r.Packs * r.Fitting.Pack),
			Used:   int64(u.Count),
			Pack:   int64(r.Fitting.Pack),
		}
		switch {
		case r.Run > 0: // it is cut from lengths
			b.Unit, b.Bought, b.Used = "length", b.Bought*int64(r.Fitting.Each), int64(u.Length)
			b.Pack = int64(r.Fitting.Each) * int64(r.Fitting.Pack) * int64(max(1, r.Packs))
		case u.Volume > 0: // thousandths of a bottle
			b.Used = (int64(u.Volume) + 999) / 1000
		}
		mine(b, r.Packs)
	}
	for _, c := range p.Laying.Units {
		id := c.Unit.ID
		add(
			Balanced{
				Item:   id,
				Name:   c.Unit.Name,
				Unit:   "pieces",
				Bought: int64(c.Buy),
				Owned:  int64(c.Have),
				Used:   int64(used[id].Count - c.Part + c.Cut),
				Spare:  int64(c.Spare + c.Broke),
				Pack:   1,
			},
		)
	}
	for _, h := range p.Laying.Heaps {
		// By what a pack holds in place: what is compacted is weighed, and takes less room.
		pack := h.Loose.Mass / h.Loose.Density * 1e9
		if h.Loose.Kind == catalog.Mortar {
			pack = float64(h.Loose.Volume)
		}
		add(
			Balanced{
				Item:   h.Loose.ID,
				Name:   h.Loose.Name,
				Unit:   "volume",
				Bought: int64(pack * float64(h.Packs)),
				Owned:  int64(pack * float64(h.Have)),
				Used:   int64(used[string(h.Loose.Kind)].Volume),
				Pack:   int64(pack),
			},
		)
	}
	if n := int64(p.Laying.Tubes); n > 0 {
		g := p.Laying.Glue
		add(
			Balanced{
				Item:   g.ID,
				Name:   g.Name,
				Unit:   "length",
				Bought: n * int64(g.Each),
				Used:   int64(used[g.ID].Length),
				Pack:   int64(g.Each),
			},
		)
	}
	if h := p.Laying.Hire; h != nil {
		add(Balanced{Item: h.ID, Name: h.Name, Unit: "pieces", Bought: 1, Used: int64(used[h.ID].Count), Pack: 1})
	}
	rolls := map[string]int{}
	for _, c := range p.Ground.Covers {
		rolls[c.Roll.ID] += c.Rolls
	}
	for _, c := range p.Ground.Covers {
		if n := int64(rolls[c.Roll.ID]); n > 0 {
			delete(rolls, c.Roll.ID)
			mine(Balanced{Item: c.Roll.ID, Name: c.Roll.Name, Unit: "length", Bought: n * int64(c.Roll.RollLength),
				Used: int64(used[c.Roll.ID].Length), Pack: int64(c.Roll.RollLength)}, int(n))
		}
	}
	for _, n := range p.Fill.Needs {
		if len(n.Ways) == 0 {
			continue
		}
		w := n.Way()
		add(
			Balanced{
				Item:   w.Fill.ID,
				Name:   w.Fill.Name,
				Unit:   "volume",
				Bought: int64(w.Bought),
				Owned:  int64(n.Owned),
				Used:   int64(used[w.Fill.ID].Volume),
				Pack:   int64(max(w.Fill.Pack, w.Fill.Least)),
			},
		)
	}
	for _, f := range p.Fill.Forked {
		mine(Balanced{Item: f.Of.ID, Name: f.Of.Name, Unit: f.Of.Unit, Bought: int64(f.Packs * f.Of.Pack),
			Used: int64(used[f.Of.ID].Count), Pack: int64(f.Of.Pack)}, f.Packs)
	}
	for _, x := range p.Water.Parts {
		b := Balanced{Item: x.Fitting.ID, Name: x.Fitting.Name, Unit: "pieces", Bought: int64(x.Packs() * x.Fitting.Pack),
			Used: int64(used[x.Fitting.ID].Count), Pack: int64(x.Fitting.Pack)}
		if x.Length > 0 {
			b.Unit, b.Bought, b.Used = "length", int64(x.Packs())*int64(x.Fitting.Each), int64(used[x.Fitting.ID].Length)
			b.Pack = int64(x.Fitting.Each)
		}
		mine(b, x.Packs())
	}
	for _, c := range p.Finish.Cans {
		for _, t := range c.Tins {
			mine(Balanced{Item: t.ID, Name: t.Name, Unit: "volume", Bought: int64(t.Tin) * int64(t.Count),
				Used: int64(used[t.ID].Volume), Pack: int64(t.Tin)}, t.Count)
		}
	}
	return list
}
