package web

import (
	"fmt"
	"strings"

	"chamfer/core/measure"
	"chamfer/core/plan"
)

// homeView is how what is bought comes home.
type homeView struct {
	Says  []string
	Trips []string
	Claim string
}

// homeward words it; nil where nothing is bought.
func (b *benchPage) homeward() (*homeView, error) {
	h, err := b.Plan.Homeward()
	if err != nil || len(h.Trips)+len(h.Long)+len(h.Heavy)+len(h.Lorry)+len(h.Brought) == 0 {
		return nil, err
	}
	sys, pr := b.Plan.Shop.Catalog.System, b.Plan.Shop.Precision()
	v := &homeView{}
	say := func(format string, args ...any) { v.Says = append(v.Says, fmt.Sprintf(format, args...)) }
	list := func(goods []plan.Goods) string {
		var parts []string
		if len(goods) > 0 && goods[0].At != "" {
			parts = append(parts, "from "+goods[0].At)
		}
		for _, g := range goods {
			parts = append(parts, fmt.Sprintf("%d × %s", g.N, g.Name))
		}
		return strings.Join(parts, ", ")
	}
	if n := len(h.Trips); n > 0 {
		text := fmt.Sprintf("%s of a car that carries %s: %s of boards, blocks and bags", measure.Count(n, "trip"),
			sys.Mass(h.Most), sys.Mass(h.Mass))
		if h.Cost > 0 {
			text += ", " + b.P.Money(h.Cost) + " for going"
		}
		if h.Delivered > 0 && h.Cost > 0 {
			switch {
			case h.Delivered < h.Cost:
				text += fmt.Sprintf("; a delivery for %s is cheaper", b.P.Money(h.Delivered))
			default:
				text += fmt.Sprintf("; a delivery costs %s", b.P.Money(h.Delivered))
			}
		}
		say("%s.", text)
		if n > 1 {
			for i := 0; i < n; { // those that are alike are said once
				what, last := list(h.Trips[i]), i
				for last+1 < n && list(h.Trips[last+1]) == what {
					last++
				}
				which := fmt.Sprint(i + 1)
				if last > i {
					which += fmt.Sprintf(" to %d, each", last+1)
				}
				v.Trips = append(v.Trips, fmt.Sprintf("%s: %s, %s", which, what, sys.Mass(plan.MassOf(h.Trips[i]))))
				i = last + 1
			}
		}
		v.Claim = "No way to load them takes fewer trips."
		if !h.Proved {
			v.Claim = fmt.Sprintf("The best found; %d is the least there could be.", h.Least)
		}
		by := " By weight: whether they have room beside one another was not looked at;"
		if h.Room > 0 {
			by = " By weight, and by the room that each thing takes by itself of " + sys.Volume(h.Room) + ";"
		}
		v.Claim += by + " screws, cloth and tins are not weighed."
	}
	if len(h.Long) > 0 {
		say("Longer than the %s that the car takes: %s. Have them delivered, or cut at the shop.",
			pr.Feet(b.Plan.Shop.Habits.Carry), list(h.Long))
	}
	if len(h.Brought) > 0 {
		say("%s bring%s what is bought there.", strings.Join(h.Brought, " and "),
			map[bool]string{true: "s"}[len(h.Brought) == 1])
	}
	if len(h.Heavy) > 0 {
		say("Each more than the car carries: %s. Have them delivered.", list(h.Heavy))
	}
	if len(h.Lorry) > 0 {
		say("On a lorry: %s.", strings.ToLower(strings.Join(h.Lorry, ", ")))
	}
	return v, nil
}
