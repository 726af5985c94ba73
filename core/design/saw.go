package design

import (
	"encoding/json"
	"errors"
	"fmt"
	"slices"

	"chamfer/core/catalog"
	"chamfer/core/measure"
)

// Sawn is a board that has gone to the saw: what has been cut from it and what
// is left of it. What has been cut is never asked for again, and what is left is
// cut before anything is bought.
type Sawn struct {
	Profile string         `json:"profile"`
	Species string         `json:"species"`
	SKU     string         `json:"sku"` // it was bought as, or "shed/" and its number
	Length  measure.Length `json:"length"`
	Cuts    []SawnCut      `json:"cuts,omitempty"`
	Left    measure.Length `json:"left"`             // that can be used; 0 where it is spoiled or used up
	Strips  []Strip        `json:"strips,omitempty"` // left beside what was ripped from it
}

// Strip is a rest that is narrower than the board it comes from.
type Strip struct {
	Length measure.Length `json:"length"`
	Width  measure.Length `json:"width"`
}

// SawnCut is a piece that has been cut.
type SawnCut struct {
	Length measure.Length `json:"length"`
	Width  measure.Length `json:"width,omitempty"` // ripped to it
	Count  int            `json:"count,omitempty"` // pieces from one blank; 0 is one
	Waste  bool           `json:"waste,omitempty"` // cut wrong
}

// Times is how many pieces a cut gave.
func (c SawnCut) Times() int { return max(1, c.Count) }

// Limits of what has been cut.
const (
	mostSawn     = 2000
	mostWithout  = 200
	mostSawnCuts = 200
)

// SawEntry is what happened to a board: to the one at a place in the list where
// there is At, or to a new one.
type SawEntry struct {
	At     *int `json:"at,omitempty"`
	Spoilt *int `json:"spoilt,omitempty"` // of the board at a place: which of its cuts gave a piece that is spoilt since
	Sawn
}

// Spoil is cuts with one piece of one of them spoilt.
func Spoil(cuts []SawnCut, at int) []SawnCut {
	cuts = slices.Clone(cuts)
	one := cuts[at]
	if one.Times() > 1 {
		cuts[at].Count--
		one.Count, one.Waste = 1, true
		return slices.Insert(cuts, at+1, one)
	}
	cuts[at].Waste = true
	return cuts
}

// saw takes down a board that has been cut, as JSON: {"at": 3, ...} goes on with
// the board at a place in the list, without "at" it is a new one. A list of
// boards is taken one after the other.
func (d *Design) saw(value string) error {
	var list []SawEntry
	if err := json.Unmarshal([]byte(value), &list); err != nil {
		return fmt.Errorf("what was cut cannot be read: %w", err)
	}
	d.Saw = slices.Clone(d.Saw)
	for _, s := range list {
		if s.At == nil {
			d.Saw = append(d.Saw, s.Sawn)
			continue
		}
		if *s.At < 0 || *s.At >= len(d.Saw) {
			return fmt.Errorf("there is no board %d to go on with", *s.At)
		}
		on := d.Saw[*s.At]
		if s.Spoilt != nil {
			if *s.Spoilt < 0 || *s.Spoilt >= len(on.Cuts) || on.Cuts[*s.Spoilt].Waste {
				return fmt.Errorf("there is no good piece %d on board %d", *s.Spoilt, *s.At)
			}
			on.Cuts = Spoil(on.Cuts, *s.Spoilt)
			d.Saw[*s.At] = on
			continue
		}
		on.Cuts = append(slices.Clone(on.Cuts), s.Cuts...)
		on.Strips = append(slices.Clone(on.Strips), s.Strips...)
		on.Left = s.Left
		d.Saw[*s.At] = on
	}
	return nil
}

// without marks something as not to be had today, or as there again: a length of board, a pack of fixings, a way a
// material comes.
func (d *Design) without(sku, value string, cat *catalog.Catalog) error {
	if value == "yes" && !cat.MayLack(sku) {
		return errors.New("nothing with this number is sold here that something else could stand in for")
	}
	d.Without = slices.DeleteFunc(slices.Clone(d.Without), func(s string) bool { return s == sku })
	if value == "yes" {
		d.Without = append(d.Without, sku)
	}
	return nil
}

func (c *checker) sawn(d Design, cat *catalog.Catalog) {
	if len(d.Saw) > mostSawn {
		c.refuse("", "saw", "more than %d boards in one project", mostSawn)
		return
	}
	if len(d.Without) > mostWithout {
		c.refuse("", "without", "more than %d lengths are not to be had", mostWithout)
		return
	}
	for _, sku := range d.Without {
		c.key("without", sku)
	}
	for _, s := range d.Saw {
		if _, err := cat.Profile(s.Profile); err != nil {
			c.refuse("", "saw", "%v", err)
		}
		if _, err := cat.SpeciesOf(s.Species); err != nil {
			c.refuse("", "saw", "%v", err)
		}
		c.key("saw", s.SKU)
		if s.Length <= 0 || s.Length > 100*measure.Metre || s.Left < 0 || s.Left > s.Length ||
			len(s.Cuts) > mostSawnCuts {
			c.refuse(
				"",
				"saw",
				"a board of %s with %s left is none that could have been cut",
				c.p.Feet(s.Length),
				c.p.Feet(s.Left),
			)
		}
		for _, r := range s.Strips {
			if r.Length <= 0 || r.Length > s.Length || r.Width <= 0 || len(s.Strips) > mostSawnCuts {
				c.refuse(
					"",
					"saw",
					"a strip of %s is not left of a board of %s",
					c.p.Feet(r.Length),
					c.p.Feet(s.Length),
				)
			}
		}
		for _, cut := range s.Cuts {
			if cut.Length <= 0 || cut.Length > s.Length || cut.Width < 0 || cut.Count < 0 || cut.Count > 100 {
				c.refuse(
					"",
					"saw",
					"a piece of %s does not come out of a board of %s",
					c.p.Feet(cut.Length),
					c.p.Feet(s.Length),
				)
			}
		}
	}
}
