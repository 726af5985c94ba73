package planting

import "slices"

// Pair is two crops or families of which something is known when they stand beside one another.
type Pair struct {
	A, B   []string // IDs or families
	Helps  bool
	Grade  int // of the evidence: 3 good, 2 some, 1 little, 0 folklore: nothing known that supports it
	Why    string
	Source string
}

const agreed = "common practice"

// Pairs are those that are known, graded. What is folklore is told as such, and counts for nothing until it is asked
// for.
var Pairs = []Pair{
	{A: []string{"onion_bulb", "onion_bunching", "leek", "shallot"}, B: []string{"carrot"}, Helps: true, Grade: 2,
		Why:    "less carrot fly while onions are in leaf; it fades when they bulb",
		Source: "Uvah & Coaker 1984 (from memory)"},
	{A: []string{"alyssum"}, B: []string{"lettuce_leaf", "lettuce_head", "Brassicaceae"}, Helps: true, Grade: 2,
		Why: "hoverflies come to it, and there are fewer aphids", Source: "Brennan, about 2013 (from memory)"},
	{A: []string{"basil"}, B: []string{"tomato_indet", "tomato_det", "tomato_dwarf"}, Helps: true, Grade: 1,
		Why: "more from the same ground in one trial; nothing is known of the flavour", Source: "Bomford 2009 (from memory)"},
	{A: []string{"tomato_indet", "tomato_det", "tomato_dwarf", "eggplant", "pepper_sweet", "pepper_hot"},
		B: []string{"potato"}, Grade: 3, Why: "they share late blight and the Colorado beetle", Source: agreed},
	{A: []string{"tomato_indet", "tomato_det", "tomato_dwarf"}, B: []string{"corn_sweet"}, Grade: 2,
		Why: "one moth eats both", Source: agreed},
	{A: []string{"strawberry_june", "strawberry_everbearing", "strawberry_alpine", "raspberry_red"},
		B: []string{"Solanaceae"}, Grade: 3,
		Why: "they share Verticillium wilt", Source: agreed},
	{A: []string{"mint", "horseradish"}, B: []string{"*"}, Grade: 3, Why: "it spreads through all of a bed",
		Source: agreed},
	{A: []string{"bean_bush", "bean_pole", "pea_shell", "pea_snap"}, B: []string{"Amaryllidaceae"}, Grade: 0,
		Why: "onions are said to hurt beans and peas", Source: "folklore"},
	{A: []string{"borage"}, B: []string{"strawberry_june", "strawberry_everbearing", "strawberry_alpine"},
		Helps: true, Grade: 0,
		Why: "borage is said to help strawberries", Source: "folklore"},
	{A: []string{"garlic", "chives"}, B: []string{"lettuce_leaf", "lettuce_head", "Brassicaceae"}, Helps: true, Grade: 0,
		Why: "it is said to keep aphids off", Source: "folklore"},
	{A: []string{"marigold_french", "nasturtium"}, B: []string{"*"}, Helps: true, Grade: 0,
		Why: "a few between others are said to keep pests off; trials found nothing reliable", Source: "folklore"},
}

func (p Pair) of(a, b Crop) bool {
	is := func(list []string, c Crop) bool {
		return slices.Contains(list, c.ID) || slices.Contains(list, c.Family) || slices.Contains(list, "*")
	}
	return a.ID != b.ID && (is(p.A, a) && is(p.B, b) || is(p.A, b) && is(p.B, a))
}

// Known is what is known of two crops beside one another, with folklore where it is asked for.
func Known(a, b Crop, folklore bool) (list []Pair) {
	for _, p := range Pairs {
		if p.of(a, b) && (p.Grade > 0 || folklore) {
			list = append(list, p)
		}
	}
	return list
}

// Rest is for how many years a family should not come back to the same soil; common practice, 0 for those that stay.
func Rest(c Crop) int {
	if c.Perennial {
		return 0
	}
	switch c.Family {
	case "Brassicaceae", "Solanaceae", "Amaryllidaceae", "Apiaceae":
		return 3
	case "Cucurbitaceae", "Fabaceae", "Amaranthaceae", "Convolvulaceae", "Malvaceae":
		return 2
	case "Rosaceae":
		return 3
	default:
		return 1
	}
}
