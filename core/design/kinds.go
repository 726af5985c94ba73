package design

import (
	"fmt"
	"strconv"
	"strings"

	"chamfer/core/catalog"
)

// editKind is one kind of edit that is not of a bed's decision: how it is known, how it is
// applied, how it is read where it is typed, and what the history calls it. What goes wrong
// is a refusal of its field.
type editKind struct {
	name  string // of Edit.Field; one that ends with a colon is what it begins with
	ofBed bool   // it is of one bed
	down  bool   // it takes down what came of the work, and decides nothing
	apply func(c *changing, rest, value string) error
	typed func(rest, value string) string // what the history calls it where a form has it; nil for none
}

// changing is a design while it is being changed.
type changing struct {
	next *Design
	bed  *Bed // where the edit is of one
	cat  *catalog.Catalog
}

// editKinds are all of them. A new one is a line here and what it does.
var editKinds = []editKind{
	{name: "price:", down: true, apply: func(c *changing, sku, value string) error {
		return c.next.setPrice(sku, value, c.cat)
	},
		typed: func(sku, value string) string { return "price of " + sku + " → " + value }},
	{name: "sold:", apply: func(c *changing, sku, value string) error { return c.next.setSold(sku, value, c.cat) }},
	{name: "have:", down: true, apply: func(c *changing, id, value string) error {
		return c.next.setHave(id, value, c.cat)
	},
		typed: func(id, value string) string { return "there are " + value + " of " + id }},
	{name: "broken:", down: true, apply: func(c *changing, id, value string) error {
		return c.next.setBroken(id, value, c.cat)
	},
		typed: func(id, value string) string { return value + " of " + id + " broke" }},
	{name: "measured:", apply: func(c *changing, what, value string) error {
		err := c.next.measure(what, value, c.cat)
		c.cat = c.next.Catalog(c.cat)
		return err
	}, typed: func(what, value string) string { return strings.ReplaceAll(what, ":", ", ") + " measured " + value }},
	{name: "plot:", apply: func(c *changing, key, value string) error { return c.next.setPlot(key, value, c.cat) },
		typed: func(key, value string) string { return "plot " + strings.ReplaceAll(key, ":", " ") + " → " + value }},
	{name: "ground:", apply: func(c *changing, key, value string) error { return c.next.setGround(key, value, c.cat) },
		typed: func(key, value string) string {
			if key == "readings" {
				return "readings of the ground"
			}
			return key + " → " + value
		}},
	{name: "water:", apply: func(c *changing, key, value string) error { return c.next.setWater(key, value, c.cat) },
		typed: func(key, value string) string { return key + " → " + value }},
	{name: "sky:", apply: func(c *changing, key, value string) error { return c.next.setSky(key, value, c.cat) },
		typed: func(key, value string) string { return "sky, " + key + " → " + value }},
	{name: "crop:", apply: func(c *changing, id, value string) error { return c.next.setCrop(id, value, c.cat) }},
	{name: "crops", apply: func(c *changing, _, value string) error { return c.next.readCrops(value, c.cat) }},
	{name: "plant:", ofBed: true, apply: func(c *changing, key, value string) error {
		return c.bed.setPlant(key, value, c.cat)
	}, typed: func(_, value string) string { return "plants: " + value }},
	{name: "want:", ofBed: true, apply: func(c *changing, crop, value string) error {
		return c.bed.setWant(crop, value)
	}, typed: func(crop, value string) string { return "wanted: " + value + " of " + crop }},
	{name: "grown:", ofBed: true, down: true, apply: func(c *changing, key, value string) error {
		return c.bed.setGrown(key, value)
	}, typed: func(key, value string) string { return "what grew: " + value }},
	{name: "calendar:", apply: func(c *changing, key, value string) error {
		return c.next.setCalendar(key, value, c.cat)
	}, typed: func(key, value string) string {
		if key == "forecast" {
			return "forecast"
		}
		return "calendar, " + key + " → " + value
	}},
	{name: "layer:", ofBed: true, apply: func(c *changing, n, value string) error {
		return c.bed.setLayer(n, value, c.cat)
	}, typed: func(n, value string) string { return "layer " + n + ": " + value }},
	{name: "level:", ofBed: true, apply: func(c *changing, n, value string) error {
		return c.bed.setLevel(n, value, c.cat)
	}, typed: func(_, value string) string { return "stands " + value }},
	{name: "note", apply: func(c *changing, _, value string) error {
		c.next.Note = strings.TrimSpace(value)
		return nil
	}},
	{name: "own-unit", apply: func(c *changing, _, value string) error {
		err := c.next.ownUnit(value, c.cat.System)
		c.cat = c.cat.Owning(c.next.Units)
		return err
	}},
	{name: "own-timber", apply: func(c *changing, _, value string) error {
		err := c.next.ownTimber(value, c.cat)
		c.cat = c.cat.WithTimbers(c.next.Timbers)
		return err
	}},
	{name: "saw", down: true, apply: func(c *changing, _, value string) error { return c.next.saw(value) }},
	{name: "without:", down: true, apply: func(c *changing, sku, value string) error {
		return c.next.without(sku, value, c.cat)
	}},
	{name: "region", apply: func(c *changing, _, value string) (err error) {
		c.cat, err = c.next.moveTo(value, c.cat)
		return err
	}},
	{name: "add-bed", apply: func(c *changing, _, value string) error { return c.next.addBed(value, c.cat) }},
	{name: "place:", ofBed: true, apply: func(c *changing, n, value string) error { return c.bed.place(n, value, c.cat) }},
	{name: "point:", ofBed: true, apply: func(c *changing, what, by string) error {
		return c.bed.movePoint(what, by, c.cat)
	}, typed: func(what, _ string) string {
		key, nth, _ := strings.Cut(what, ":")
		n, more := strings.CutSuffix(nth, "+")
		if more {
			return "one more point of the " + key
		}
		at, _ := strconv.Atoi(n)
		return fmt.Sprintf("point %d of the %s moved", at+1, key)
	}},
	{name: "outside:", ofBed: true, apply: func(c *changing, field, value string) error {
		return c.bed.sayOutside(field, value, c.cat.System)
	}, typed: func(field, value string) string {
		if value == "" {
			return lowerFirst(OutsideLabel(field)) + " follows again"
		}
		return lowerFirst(OutsideLabel(field)) + " → " + value
	}},
	{name: "keep", ofBed: true, apply: func(c *changing, _, value string) error {
		c.bed.keep(value)
		return nil
	}},
	{name: "copy-bed", ofBed: true, apply: func(c *changing, _, _ string) error {
		c.next.copyBed(*c.bed)
		return nil
	}},
	{name: "remove-bed", ofBed: true, apply: func(c *changing, _, _ string) error {
		c.next.removeBed(c.bed.ID)
		return nil
	}},
}

// lowerFirst starts a label inside a sentence.
func lowerFirst(s string) string {
	if s == "" {
		return "a size"
	}
	return strings.ToLower(s[:1]) + s[1:]
}

// kindOf is the kind of edit that a field's name says, and the rest of the name.
func kindOf(field string) (k editKind, rest string, ok bool) {
	for _, k := range editKinds {
		rest, found := strings.CutPrefix(field, k.name)
		if found && (rest == "" || strings.HasSuffix(k.name, ":")) {
			return k, rest, true
		}
	}
	return editKind{}, "", false
}

// Typed is the edit that a form's input by this name is, with what the history calls it;
// false where no form has one of that kind. Bare is what is read of the value, where a sign
// of money stands with it.
func Typed(name, value, bare string) (e Edit, said string, ok bool) {
	k, rest, ok := kindOf(name)
	if !ok || k.typed == nil {
		return Edit{}, "", false
	}
	if k.name == "price:" {
		return Edit{Field: name, Value: bare}, k.typed(rest, value), true
	}
	return Edit{Field: name, Value: value}, k.typed(rest, value), true
}
