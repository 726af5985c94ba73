package web

import (
	"context"
	"fmt"
	"html/template"
	"slices"
	"time"

	"chamfer/core/cost"
	"chamfer/core/measure"
	"chamfer/core/plan"
	"chamfer/draw"
	"chamfer/store"
)

// billStage tells what it all costs.
var billStage = stage{Key: "bill", Name: "Bill", About: "What it all costs",
	Body: func(ctx context.Context, s *Server, b *benchPage, _ refused) (any, error) {
		body := b.bill()
		seen, err := s.store.PricesSeen(ctx, b.ID)
		if err != nil {
			return nil, err
		}
		b.pricesSeen(&body, seen, time.Now())
		if body.Moved, err = s.moved(ctx, b); err != nil {
			return nil, err
		}
		stuff, err := s.store.Stuff(ctx, b.Project.Household, b.Plan.Design.Region)
		for _, x := range b.Plan.FromShed(stuff) {
			if x.Have < x.Wanted {
				body.Shed = append(body.Shed, x)
			}
		}
		return body, err
	}}

type billBody struct {
	Prices []priceView    // as they were seen
	Moved  []string       // how those of the shops have moved since
	Shed   []plan.Shelved // in the shed, and of use here
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
	Age   string // of a price of one's own
}

// priceView is how one price moved.
type priceView struct {
	Item, Age string
	Drawn     template.HTML
	Seen      []string
}

// pricesSeen tells how old the prices of one's own are, and how prices moved.
func (b *benchPage) pricesSeen(body *billBody, seen []store.Seen, now time.Time) {
	say := b.Plan.Shop.Speech()
	for g := range body.Groups {
		for i := range body.Groups[g].Lines {
			l := &body.Groups[g].Lines[i]
			var list []draw.Priced
			v := priceView{Item: l.Item}
			for _, x := range seen {
				on, err := time.Parse(time.RFC3339, x.At)
				if x.SKU != l.SKU || err != nil {
					continue
				}
				what := "seen"
				if x.Paid {
					what = "paid"
				}
				list = append(list, draw.Priced{Price: x.Price, On: on})
				v.Seen = append(v.Seen, fmt.Sprintf("%s %s %s", b.P.Money(x.Price), what, say.Day(on)))
				v.Age = daysOld(now.Sub(on))
				if l.Own && !x.Paid {
					l.Age = v.Age
				}
			}
			if len(list) > 0 && !slices.ContainsFunc(body.Prices, func(o priceView) bool { return o.Item == v.Item }) {
				v.Drawn = template.HTML(draw.Prices(list, now, draw.Sheet{W: 180, H: 40, Font: 12}))
				body.Prices = append(body.Prices, v)
			}
		}
	}
}

// daysOld says how old something is.
func daysOld(age time.Duration) string {
	switch days := int(age.Hours() / 24); {
	case days < 1:
		return "of today"
	default:
		return measure.Count(days, "day") + " old"
	}
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
