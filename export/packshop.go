package export

import (
	"fmt"
	"strings"

	"chamfer/core/cost"
	"chamfer/core/measure"
	"chamfer/core/plan"
	"chamfer/draw"
	"chamfer/paper"
)

// shopping is what is bought, by shop and aisle, with boxes to tick.
func (k *packer) shopping() error {
	aisles := k.p.Bill.Aisles()
	if len(aisles) == 0 {
		return nil
	}
	k.Sheet("What to buy")
	k.Small(k.say("Prices are the catalogue's, which are invented, until your own are written in."))
	cur, columns := k.p.Shop.Currency(), []paper.Column{{Tick: true, Share: 0.5}, {Name: "thing", Share: 6},
		{Name: "how many", Share: 2.6, Num: true}, {Name: "planned", Share: 1.6, Num: true},
		{Name: "paid", Share: 1.6, Num: true}}
	var rows []paper.Row
	shop := ""
	for _, a := range aisles {
		name := a.Name
		if a.Shop != shop {
			shop, name = a.Shop, a.Shop+": "+strings.ToLower(a.Name[:1])+a.Name[1:]
		}
		rows = append(rows, paper.Row{Cells: []string{"", k.say(name), "", cur.Format(a.Sum())}, Heavy: true})
		for _, l := range a.Lines {
			rows = append(rows, paper.Row{Small: k.say(l.Why), Cells: []string{"", k.say(l.Item),
				k.say(cost.Packs(l.Quantity, l.Unit)), cur.Format(l.Amount)}})
		}
	}
	total := func(name, sum string) {
		rows = append(rows, paper.Row{Cells: []string{"", name, "", sum}, Heavy: true})
	}
	if k.p.Bill.Tax != 0 {
		total("Before tax", cur.Format(k.p.Bill.Subtotal))
		total("Tax", cur.Format(k.p.Bill.Tax))
	}
	total("Together", cur.Format(k.p.Bill.Total))
	k.Table(columns, rows)
	if len(k.p.Bill.Without) > 0 {
		k.Bold("Not in it, for it cannot be had: " + k.say(strings.Join(k.p.Bill.Without, "; ")) + ".")
	}
	var owned []paper.Row
	for _, l := range k.p.Bill.Lines {
		if l.Owned {
			owned = append(owned, paper.Row{Cells: []string{"", k.say(l.Item), k.say(cost.Packs(l.Quantity, l.Unit))}})
		}
	}
	if len(owned) > 0 {
		k.Sub("There already: bring it together", 14)
		k.Table(columns[:3], owned)
	}
	return nil
}

// cutSheet is every board to one scale, with the set-ups of the saw.
func (k *packer) cutSheet() error {
	var full measure.Length
	for _, c := range k.p.Cuts {
		for _, b := range c.Answer.Boards {
			full = max(full, b.Stock.Length)
		}
	}
	if full > 0 {
		k.Sheet("How the boards are cut")
		k.Para(k.say("Every cut takes %s. Measure, cut, then measure the next. A letter is what the piece is called on "+
			"every sheet; the numbers below a board run from its left end.", k.p.Shop.Habits.Kerf.String()))
	}
	cur := k.p.Shop.Currency()
	const wide = 700 // pixels of the longest board
	for _, c := range k.p.Cuts {
		k.Sub(k.say(c.Profile.Name+", "+c.Species.Name), 40)
		k.Small(k.say(c.Claim(cur)))
		var rows []paper.Row
		for _, s := range c.Setups() {
			rows = append(rows, paper.Row{Cells: []string{"", k.pr.Short(s.Length), fmt.Sprint(s.Count), s.Words(k.pr)}})
		}
		k.Table([]paper.Column{{Tick: true, Share: 0.5}, {Name: "stop block at", Share: 2, Num: true},
			{Name: "cuts", Share: 1, Num: true}, {Name: "pieces", Share: 5}}, rows)
		for _, b := range c.Answer.Boards {
			svg := draw.Board(b, c.Request.Kerf, full, k.pr, wide)
			high := paper.High(svg, k.Width()-8)
			k.Room(high + 7)
			words := fmt.Sprintf("%d × %s", b.Count, k.pr.Feet(b.Stock.Length))
			switch {
			case plan.Owned(b.Stock.ID):
				words += ", yours"
			case b.Part > 0:
				words += ", cut at " + k.pr.Short(b.Part) + " by the shop"
			}
			if left := k.pr.Short(b.Offcut); k.pr.Round(b.Offcut) > 0 {
				words += "; left over " + left
			}
			k.Box(k.say(words))
			if err := k.Place(svg, k.Side+7, k.At(), k.Width()-8); err != nil {
				return err
			}
			k.Space(high + 2)
		}
	}
	if full > 0 {
		bar := draw.Bar((wide-4)/full.Millimetres(), wide, 14, k.pr.System)
		high := paper.High(bar, k.Width()-8)
		k.Room(high + 3)
		if err := k.Place(bar, k.Side+7, k.At(), k.Width()-8); err != nil {
			return err
		}
		k.Space(high + 3)
	}
	if len(k.p.Laying.Units) > 0 {
		k.Sheet("Which blocks, and how they are cut")
	}
	for _, u := range k.p.Laying.Units {
		k.Sub(k.say(u.Unit.Name), 12)
		k.Para(k.say("Buy %d: %s.", u.Buy, u.Words()))
		for _, kind := range u.Kinds {
			k.Box(k.say(kind.Words(k.pr)))
		}
		k.Space(2)
	}
	return nil
}
