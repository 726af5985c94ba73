package design

import (
	"errors"
	"fmt"
	"slices"
	"strings"
	"unicode/utf8"

	"chamfer/core/catalog"
	"chamfer/core/measure"
)

// Limits of a bed in wood. A bed past them is a building.
const (
	shortest   = 300 * measure.Millimetre
	longest    = 12 * measure.Metre
	widest     = 6 * measure.Metre
	shallowest = 50 * measure.Millimetre
	deepest    = 1500 * measure.Millimetre
	inGround   = 1200 * measure.Millimetre
	betweenPos = 50 * measure.Millimetre
)

// Systems names the building systems there are.
var Systems = []string{"boarded"}

// Check reports every rule a design breaks, each as a [Refusal] that says what
// would be accepted; nil where it can be built.
func Check(d Design, cat *catalog.Catalog) error {
	c := &checker{cat: cat, p: cat.Precision(cat.Habits)}
	if d.Format != Format {
		c.refuse("", "format", "this is %q; a design file says %q", d.Format, Format)
	}
	if d.Region != cat.ID {
		c.refuse("", "region", "region %q is not the catalogue's; give us or metric", d.Region)
	}
	c.name("", "name", d.Name)
	switch n := len(d.Beds); {
	case n == 0:
		c.refuse("", "beds", "a project needs at least one bed")
	case n > MaxBeds:
		c.refuse("", "beds", "%d beds are too many for one project; up to %d work", n, MaxBeds)
	}
	if len(d.Prices) > MaxPrices {
		c.refuse("", "prices", "%d prices are too many; up to %d work", len(d.Prices), MaxPrices)
	}
	ids := map[string]bool{}
	for _, b := range d.Beds {
		if b.ID == "" || len(b.ID) > 20 || strings.Trim(b.ID, "abcdefghijklmnopqrstuvwxyz0123456789-") != "" {
			c.refuse(b.ID, "id", "a bed's id is up to 20 small letters, digits and dashes, such as b1")
		} else if ids[b.ID] {
			c.refuse(b.ID, "id", "two beds are called %q; each needs its own id", b.ID)
		}
		ids[b.ID] = true
		c.bed(b)
	}
	return errors.Join(c.errs...)
}

type checker struct {
	cat  *catalog.Catalog
	p    measure.Precision
	errs []error
}

func (c *checker) refuse(bed, field, format string, args ...any) {
	c.errs = append(c.errs, &Refusal{Bed: bed, Field: field, Reason: fmt.Sprintf(format, args...)})
}

func (c *checker) name(bed, field, name string) {
	switch {
	case strings.TrimSpace(name) == "":
		c.refuse(bed, field, "a name is missing; anything up to %d letters will do", MaxName)
	case utf8.RuneCountInString(name) > MaxName:
		c.refuse(bed, field, "the name is too long; up to %d letters will do", MaxName)
	case strings.ContainsFunc(name, func(r rune) bool { return r < ' ' }):
		c.refuse(bed, field, "a name is one line of text")
	}
}

func (c *checker) within(b Bed, field string, l, least, most measure.Length) {
	f, _ := FieldByKey(field)
	if l < least || l > most {
		c.refuse(b.ID, field, "%s of %s is out of range: from %s to %s works",
			strings.ToLower(f.Label), c.p.Feet(l), c.p.Feet(least), c.p.Feet(most))
	}
}

func (c *checker) bed(b Bed) {
	before := len(c.errs)
	c.name(b.ID, "name", b.Name)
	if !slices.Contains(Systems, b.System) {
		c.refuse(b.ID, "system", "there is no building system %q; there is %s", b.System, strings.Join(Systems, ", "))
	}
	for _, f := range fields {
		if f.Kind != ChoiceField {
			continue
		}
		choices := f.Choices(c.cat, b)
		if !slices.ContainsFunc(choices, func(ch Choice) bool { return ch.Value == *f.text(&b) }) {
			var words []string
			for _, ch := range choices {
				words = append(words, ch.Value)
			}
			c.refuse(b.ID, f.Key, "%q is not on offer here; there is %s", *f.text(&b), strings.Join(words, ", "))
		}
	}
	mid, fixed := b.MidCount()
	if b.MidPosts != Auto && (!fixed || mid < 0 || mid > MaxMidPosts) {
		c.refuse(b.ID, "mid_posts", "%q is not a number of posts: give auto or 0 to %d", b.MidPosts, MaxMidPosts)
	}
	c.within(b, "length", b.Length, shortest, longest)
	c.within(b, "width", b.Width, shortest, widest)
	c.within(b, "soil", b.Soil, shallowest, deepest)
	c.within(b, "freeboard", b.Freeboard, 0, 300*measure.Millimetre)
	c.within(b, "post_in_ground", b.PostInGround, 0, inGround)
	c.within(b, "mid_in_ground", b.MidInGround, 0, inGround)
	if len(c.errs) > before {
		return // what follows needs sane numbers
	}
	if !c.cat.Sold(b.Board, b.Species) {
		var others []string
		for _, s := range c.cat.Species {
			if c.cat.Sold(b.Board, s.ID) {
				others = append(others, s.Name)
			}
		}
		c.refuse(b.ID, "species", "%s is not sold in this timber; it comes in %s", b.Board, strings.Join(others, ", "))
		return
	}
	if b.Width > b.Length {
		c.refuse(b.ID, "width", "%s would be wider than the bed is long (%s); the longer size goes first, so give up to %s",
			c.p.Feet(b.Width), c.p.Feet(b.Length), c.p.Feet(b.Length))
	}
	c.parts(b)
}

// parts checks how the pieces meet.
func (c *checker) parts(b Bed) {
	board, _ := c.cat.Profile(b.Board)
	post, _ := c.cat.Profile(b.Post)
	if most := board.Width / 2; b.PostBelowRim > most {
		c.refuse(b.ID, "post_below_rim", "%s would leave the top board with nothing to be screwed to; up to %s works",
			c.p.Feet(b.PostBelowRim), c.p.Feet(most))
	}
	inLength, inWidth := b.Length, b.Width
	if b.Cap != NoCap {
		inLength, inWidth = inLength+2*b.CapIn, inWidth+2*b.CapIn
		c.capFits(b, board)
	}
	if least := 2*post.Width + betweenPos; inWidth < least {
		c.refuse(b.ID, "width", "two %s posts do not fit between the long sides; from %s works",
			post.Name, c.p.Feet(b.Width+least-inWidth))
	}
	if mid, ok := b.MidCount(); ok {
		room := int((inLength - 2*post.Width) / (post.Width + betweenPos))
		if mid > room {
			c.refuse(b.ID, "mid_posts", "%d posts do not fit along %s; up to %d do", mid, c.p.Feet(inLength), max(0, room))
		}
	}
}

func (c *checker) capFits(b Bed, board catalog.Profile) {
	capBoard, _ := c.cat.Profile(b.CapProfile)
	share := capBoard.Width - board.Thickness
	if !c.cat.Sold(b.CapProfile, SpeciesFor(c.cat, b.CapProfile, b.Species)) {
		c.refuse(b.ID, "cap_profile", "%s is not sold", b.CapProfile)
	}
	switch {
	case share < 0:
		c.refuse(b.ID, "cap_profile", "a %s cap is narrower than the %s wall under it; choose a wider board",
			capBoard.Name, c.p.Short(board.Thickness))
	case b.CapIn < 0:
		c.refuse(b.ID, "cap_out", "a %s cap on this wall has %s to overhang, in and out together; up to that works",
			capBoard.Name, c.p.Short(share))
	case b.CapOut < 0, b.CapIn+b.CapOut > share:
		c.refuse(b.ID, "cap_in", "a %s cap on this wall has %s to overhang, in and out together; up to that works",
			capBoard.Name, c.p.Short(share))
	}
}
