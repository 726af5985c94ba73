package web

import (
	"context"
	"html/template"

	"chamfer/core/cost"
	"chamfer/draw"
)

// billStage tells what it all costs.
var billStage = stage{Key: "bill", Name: "Bill", About: "What it all costs",
	Body: func(_ context.Context, _ *Server, b *benchPage, _ refused) (any, error) { return b.bill(), nil }}

type billBody struct {
	Groups []billGroup
	Best   string
	Worst  string
	PerArea,
	AreaUnit string
	Heaps []heapOf // what is bought, as it lies in each shop's yard
}

type heapOf struct {
	Shop, Sum string
	Drawn     template.HTML
}

type billGroup struct {
	Name  string
	Lines []billLine
	Sum   string
}

type billLine struct {
	cost.Line
	Error string
	Text  string // of the price field
	Was   string // the price as it is reckoned with
	Mine  bool   // how many are there already is said here
	Had   string
	HadNo string // why that cannot be
	Said  string // why so much of it; "" where the line above says it
}

var groupNames = []struct {
	Group cost.Group
	Name  string
}{{cost.Timber, "Timber"}, {cost.Masonry, "Blocks, base and mortar"}, {cost.Fixings, "Fixings"}, {cost.Sheets,
	"Sheets and cloth"}, {cost.Soil, "Soil"}, {cost.Water, "Water"}, {cost.Finish, "Finish"}}

func (b *benchPage) bill() billBody {
	best, worst := b.Plan.PerYear()
	body := billBody{
		Best:     b.P.Money(best),
		Worst:    b.P.Money(worst),
		PerArea:  b.P.Money(b.Plan.PerArea()),
		AreaUnit: b.Plan.AreaUnit(),
	}
	for _, shop := range b.Plan.Bill.Shops() {
		body.Heaps = append(body.Heaps, heapOf{shop.Name, b.P.Money(shop.Sum),
			template.HTML(draw.Bought(b.Plan, shop.Name, 236))})
	}
	seen := map[string]bool{}
	for _, g := range groupNames {
		group := billGroup{Name: g.Name, Sum: b.P.Money(b.Plan.Bill.Of(g.Group))}
		for _, l := range b.Plan.Bill.Lines {
			if l.Group == g.Group {
				line := billLine{
					Line:  l,
					Text:  l.Price.String(),
					Was:   l.Price.String(),
					Error: b.no.why("price:" + l.SKU),
				}
				if line.Mine = b.Plan.ByPack(l) && !seen[l.SKU]; line.Mine {
					seen[l.SKU] = true
					line.Had, line.HadNo = b.Had(l.SKU), b.HadError(l.SKU)
				}
				if typed, ok := b.no.values["price:"+l.SKU]; ok {
					line.Text = typed
				}
				if n := len(group.Lines); n == 0 || group.Lines[n-1].Why != line.Why { // what goes on is said once
					line.Said = line.Why
				}
				group.Lines = append(group.Lines, line)
			}
		}
		if len(group.Lines) > 0 {
			body.Groups = append(body.Groups, group)
		}
	}
	return body
}
