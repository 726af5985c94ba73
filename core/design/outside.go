package design

import (
	"fmt"
	"maps"
	"slices"

	"chamfer/core/catalog"
	"chamfer/core/measure"
)

// Sizes can be said from outside as well as from inside: how long and wide the bed is over its
// walls, and how high its rim stands above the ground. What was said is kept by the decision
// that follows from it, and holds when boards, corners or the cap change; asking for the
// inside size lets go of it.

// Outers are the sizes of a bed from outside, by the decision that follows from each.
type Outers map[string]measure.Length

// outsides are those decisions, with what they are called from outside.
var outsides = []struct{ field, label string }{
	{"length", "Outside length"},
	{"width", "Outside width"},
	{"soil", "Rim above the ground"},
}

// OutsideLabel is what the size that a decision's follows from is called, "" where there is
// none.
func OutsideLabel(field string) string {
	for _, o := range outsides {
		if o.field == field {
			return o.label
		}
	}
	return ""
}

// OutsideFields lists the decisions of a bed that can be said from outside.
func OutsideFields(b Bed) []string {
	var list []string
	for _, o := range outsides {
		_, has := FieldOf(b, o.field)
		if _, rim := Serve(b, SetsRim); has && !(o.field == "soil" && rim) { // which has a decision of its own
			list = append(list, o.field)
		}
	}
	return list
}

// outer measures a bed as it is built; builders provide it while the program starts.
var outer func(Bed, *catalog.Catalog) (Outers, error)

// MeasureOuter says how a bed is measured from outside.
func MeasureOuter(of func(Bed, *catalog.Catalog) (Outers, error)) { outer = of }

// sayOutside keeps a size that was said from outside; nothing lets go of it.
func (b *Bed) sayOutside(field, value string, sys measure.System) error {
	if !slices.Contains(OutsideFields(*b), field) {
		return fmt.Errorf("%s", b.without(field))
	}
	b.Outside = maps.Clone(b.Outside)
	if value == "" {
		delete(b.Outside, field)
		return nil
	}
	l, err := measure.Parse(value, sys)
	if err != nil {
		return err
	}
	if b.Outside == nil {
		b.Outside = Outers{}
	}
	b.Outside[field] = l
	return nil
}

// inside lets go of sizes said from outside: those inside are asked for.
func (b *Bed) inside(fields ...string) {
	if len(b.Outside) > 0 {
		b.Outside = maps.Clone(b.Outside)
		maps.DeleteFunc(b.Outside, func(field string, _ measure.Length) bool { return slices.Contains(fields, field) })
	}
}

// fitOutside sets the sizes inside so that those outside are as they were said. follow is what
// follows from a change of sizes.
func (b *Bed) fitOutside(cat *catalog.Catalog, edits []Edit, follow func(*Bed)) {
	if len(b.Outside) == 0 {
		return
	}
	b.Outside = maps.Clone(b.Outside)
	for field := range b.Outside {
		if _, has := FieldOf(*b, field); !has {
			delete(b.Outside, field)
		}
	}
	if len(b.Outside) == 0 || outer == nil {
		b.Outside = nil
		return
	}
	before := b.Copied()
	const tries = 4 // one is enough but where units or whole boards have their say
	for n := 0; ; n++ {
		got, err := outer(*b, cat)
		if err != nil {
			return
		}
		off := maps.Clone(b.Outside)
		maps.DeleteFunc(off, func(field string, l measure.Length) bool { return got[field] == l })
		if len(off) == 0 {
			if touched(edits, b.ID, "system") && !b.suits(cat) {
				*b = before
				b.Outside = nil
			}
			return
		}
		if n == tries {
			if touched(edits, b.ID, "system") { // what another system cannot make is let go of
				*b = before
				maps.DeleteFunc(b.Outside, func(field string, _ measure.Length) bool { return off[field] != 0 })
			}
			return
		}
		for _, field := range slices.Sorted(maps.Keys(off)) {
			f, _ := FieldOf(*b, field)
			if f.length != nil && *f.length(b)+off[field]-got[field] > 0 {
				*f.length(b) += off[field] - got[field]
			}
		}
		follow(b)
	}
}

// suits reports whether its system has nothing against a bed.
func (b *Bed) suits(cat *catalog.Catalog) bool {
	s, _ := SystemNamed(b.System)
	fits := s.Check != nil
	if fits {
		s.Check(*b, cat, func(string, string, ...any) { fits = false })
	}
	return fits
}

// outside refuses sizes from outside that nothing inside makes.
func (c *checker) outside(b Bed) {
	if len(b.Outside) == 0 || outer == nil {
		return
	}
	got, err := outer(b, c.cat)
	if err != nil {
		return // it cannot be built at all, and that is said
	}
	p := c.cat.Precision(c.cat.Habits)
	for _, field := range slices.Sorted(maps.Keys(b.Outside)) {
		if said := b.Outside[field]; said != got[field] {
			more := "another size, or the one inside instead, works"
			if field == "soil" {
				more = "a ripped board makes any height; the depth of soil instead works, too"
			}
			c.refuse(b.ID, "outside:"+field, "as it is built it comes to %s, not %s: %s", p.Feet(got[field]), p.Feet(said), more)
		}
	}
}
