package design

import (
	"errors"
	"fmt"
	"iter"
	"maps"
	"reflect"
	"slices"
	"strings"
	"unicode"
	"unicode/utf8"

	"chamfer/core/catalog"
	"chamfer/core/measure"
	"chamfer/core/money"
	"chamfer/core/planting"
)

// Limits of a bed in wood. A bed past them is a building.
const (
	shortest   = 300 * measure.Millimetre
	longest    = 12 * measure.Metre
	widest     = 6 * measure.Metre
	shallowest = 50 * measure.Millimetre
	deepest    = 1500 * measure.Millimetre
	inGround   = 1200 * measure.Millimetre
)

// Limits of what is written about a bed.
const (
	mostKept   = 50     // findings
	mostWord   = 40     // letters of a choice
	mostOption = 10_000 // letters of one decision
)

// sizes are the common lengths of a bed, by field, in the order of the file.
func (b *Bed) sizes() iter.Seq2[string, measure.Length] {
	return func(yield func(string, measure.Length) bool) {
		for _, f := range fields {
			if f.length != nil && !yield(f.Key, *f.length(b)) {
				return
			}
		}
	}
}

// Check reports every rule a design breaks, each as a [Refusal] that says what
// would be accepted; nil where it can be built.
func Check(d Design, cat *catalog.Catalog) error { return d.check(cat, nil) }

// check is Check; beds that are just as in a design that was checked before, in a project that is else the same, are
// not looked at again.
func (d Design) check(cat *catalog.Catalog, before *Design) error {
	selling := cat.SellsAs(d.Sold) // as a design does that was checked
	cat = d.Catalog(cat)
	c := &checker{cat: cat, p: cat.Precision(cat.Habits), selling: selling}
	c.measured(d)
	c.owned(d)
	c.crops(d)
	c.sold(d)
	c.plot(d)
	c.ground(d)
	c.water(d)
	c.calendar(d)
	c.sky(d)
	if d.Format != Format {
		c.refuse("", "format", "this is %q; a design file says %q", d.Format, Format)
	}
	if d.Region != cat.ID {
		c.refuse("", "region", "region %q is not the catalogue's; give us or metric", d.Region)
	}
	c.name("", "name", d.Name)
	if utf8.RuneCountInString(d.Note) > MaxNote || d.Note != "" && !Visible(d.Note) {
		c.refuse("", "note", "a note is one line of up to %d letters", MaxNote)
	}
	switch n := len(d.Beds); {
	case n == 0:
		c.refuse("", "beds", "a project needs at least one bed")
	case n > MaxBeds:
		c.refuse("", "beds", "%d beds are too many for one project; up to %d work", n, MaxBeds)
	}
	if len(d.Prices) > MaxPrices {
		c.refuse("", "prices", "%d prices are too many; up to %d work", len(d.Prices), MaxPrices)
	}
	for _, sku := range slices.Sorted(maps.Keys(d.Prices)) {
		c.key("price:"+sku, sku)
		if a := d.Prices[sku]; a < 0 || a > money.Max {
			c.refuse("", "price:"+sku, "%s is no price: from 0 to %s works", a, money.Max)
		}
	}
	c.have(d)
	c.sawn(d, c.cat)
	if before != nil && !d.alike(before) {
		before = nil
	}
	ids := map[string]bool{}
	for _, b := range d.Beds {
		if b.ID == "" || len(b.ID) > 20 || strings.Trim(b.ID, "abcdefghijklmnopqrstuvwxyz0123456789-") != "" {
			c.refuse(b.ID, "id", "a bed's id is up to 20 small letters, digits and dashes, such as b1")
		} else if ids[b.ID] {
			c.refuse(b.ID, "id", "two beds are called %q; each needs its own id", b.ID)
		}
		ids[b.ID] = true
		if before != nil && b.unchanged(before) {
			continue
		}
		wrong := len(c.errs)
		c.bed(b)
		c.places(b)
		if len(c.errs) == wrong {
			c.outside(b)
		}
	}
	return errors.Join(c.errs...)
}

// alike reports whether all is the same that rules of beds ask of the project they are in.
func (d Design) alike(o *Design) bool {
	return d.Region == o.Region && maps.Equal(d.Measured, o.Measured) && maps.Equal(d.Units, o.Units) &&
		maps.Equal(d.Timbers, o.Timbers) && maps.Equal(d.Crops, o.Crops) && maps.Equal(d.Sold, o.Sold) &&
		slices.Equal(d.Without, o.Without) && reflect.DeepEqual(d.Plot, o.Plot) && reflect.DeepEqual(d.Sky, o.Sky)
}

// unchanged reports whether a bed is just as it is in a design.
func (b Bed) unchanged(in *Design) bool {
	i := slices.IndexFunc(in.Beds, func(o Bed) bool { return o.ID == b.ID })
	return i >= 0 && reflect.DeepEqual(b, in.Beds[i])
}

// have refuses counts of things that nobody owns, and breaks.
func (c *checker) have(d Design) {
	for _, counts := range []struct {
		field string
		of    map[string]int
	}{{"have:", d.Have}, {"broken:", d.Broken}} {
		for _, id := range slices.Sorted(maps.Keys(counts.of)) {
			c.key(counts.field+id, id)
			if n := counts.of[id]; n < 1 || n > mostHad {
				c.refuse("", counts.field+id, "%d is no number of them: 0 to %d works", n, mostHad)
			}
		}
	}
}

// key refuses a number of something that no shop would give it.
func (c *checker) key(field, key string) {
	if key == "" || len(key) > 80 || !Visible(key) {
		c.refuse("", field, "what it is for has a number of up to 80 letters, on one line")
	}
}

// owned refuses blocks and timbers that cannot be read.
func (c *checker) owned(d Design) {
	if len(d.Timbers) > mostTimbers {
		c.refuse("", "own-timber", "more than %d woods of one's own", mostTimbers)
	}
	for _, id := range slices.Sorted(maps.Keys(d.Timbers)) {
		text := d.Timbers[id]
		if utf8.RuneCountInString(text) > mostTimberText || !Visible(text) {
			c.refuse("", "own-timber", "up to %d letters on one line work", mostTimberText)
		} else if s, _, err := c.cat.ParseTimber(text); err != nil {
			c.refuse("", "own-timber", "%v", err)
		} else if s.ID != id {
			c.refuse("", "own-timber", "%q is no name for that wood; %s is", id, s.ID)
		}
	}
	if len(d.Units) > mostUnits {
		c.refuse("", "own-unit", "more than %d blocks of one's own", mostUnits)
	}
	for _, id := range slices.Sorted(maps.Keys(d.Units)) {
		if text := d.Units[id]; utf8.RuneCountInString(text) > mostUnitText || !Visible(text) {
			c.refuse("", "own-unit", "up to %d letters on one line work", mostUnitText)
		} else if _, err := catalog.ParseUnit(text, c.cat.System); err != nil {
			c.refuse("", "own-unit", "%v", err)
		} else if !strings.HasPrefix(id, "own-") || len(id) > 10 {
			c.refuse("", "own-unit", "%q is no name for a block of one's own; own-1 is", id)
		}
	}
}

// measured refuses sizes that no board of the profile has.
func (c *checker) measured(d Design) {
	for _, id := range slices.Sorted(maps.Keys(d.Measured)) {
		s := d.Measured[id]
		if _, err := c.cat.Profile(id); err != nil {
			c.refuse("", "measured", "%v", err)
			continue
		}
		for name, l := range s.Sides() {
			if l < 5*measure.Millimetre || l > 400*measure.Millimetre {
				c.refuse(
					"",
					"measured:"+id+":"+name,
					"%s is no board's %s: from %s to %s works",
					c.p.Feet(l),
					name,
					c.p.AtLeast(5*measure.Millimetre),
					c.p.AtMost(400*measure.Millimetre),
				)
			}
		}
	}
}

type checker struct {
	selling bool // the catalogue came as the shops of this design sell
	cat     *catalog.Catalog
	p       measure.Precision
	table   planting.Table
	errs    []error
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
	case !Visible(name):
		c.refuse(bed, field, "a name is one line of text that can be seen")
	}
}

// Visible reports whether a text is one line of which something can be seen: no control
// characters, no broken ones, and not only blanks and marks without a shape.
func Visible(text string) bool {
	seen := false
	for _, r := range text {
		if r == utf8.RuneError || unicode.IsControl(r) || unicode.In(r, unicode.Zl, unicode.Zp) {
			return false
		}
		seen = seen ||
			unicode.IsGraphic(r) && !unicode.IsSpace(r) && !unicode.In(r, unicode.Other_Default_Ignorable_Code_Point,
				unicode.Variation_Selector) &&
				r != '\u2800'
	}
	return seen
}

func (c *checker) within(b Bed, field string, l, least, most measure.Length) {
	f, ok := FieldOf(b, field)
	if !ok {
		return // this system does without it
	}
	if l < least || l > most {
		c.refuse(b.ID, field, "%s of %s is out of range: from %s to %s works",
			strings.ToLower(f.Label), c.p.Feet(l), c.p.AtLeast(least), c.p.AtMost(most))
	}
}

func (c *checker) bed(b Bed) {
	before := len(c.errs)
	c.name(b.ID, "name", b.Name)
	c.plants(b)
	system, ok := SystemNamed(b.System)
	if !ok {
		c.refuse(
			b.ID,
			"system",
			"there is no building system %q; there is %s",
			b.System,
			strings.Join(systemNames(), ", "),
		)
		return
	}
	c.options(b, system)
	if b.Count < 0 {
		c.refuse(b.ID, "count", "%d beds cannot be built: give 1 to 100", b.Count)
	}
	for _, f := range FieldsOf(b) {
		if !f.Matters(b) && f.extra != "" {
			continue
		}
		if f.Kind == NumberField && !f.turns {
			if err := f.countable(f.value(b)); err != nil {
				c.refuse(b.ID, f.Key, "%v", err)
			}
		}
		if f.Kind != ChoiceField || f.Key == "system" {
			continue
		}
		choices := f.Choices(c.cat, b)
		if !slices.ContainsFunc(choices, func(ch Choice) bool { return ch.Value == f.value(b) }) {
			var words []string
			for _, ch := range choices {
				words = append(words, ch.Value)
			}
			c.refuse(b.ID, f.Key, "%q is not on offer here; there is %s", f.value(b), strings.Join(words, ", "))
		}
	}
	c.within(b, "length", b.Length, shortest, longest)
	c.within(b, "width", b.Width, shortest, widest)
	c.within(b, "soil", b.Soil, shallowest, deepest)
	if b.MulchDeep != 0 {
		c.within(b, "mulch_deep", b.MulchDeep, 10*measure.Millimetre, 200*measure.Millimetre)
	}
	if b.DripApart != 0 {
		c.within(b, "drip_apart", b.DripApart, 100*measure.Millimetre, 900*measure.Millimetre)
	}
	c.within(b, "freeboard", b.Freeboard, 0, 300*measure.Millimetre)
	c.within(b, "post_in_ground", b.PostInGround, 0, inGround)
	c.within(b, "mid_in_ground", b.MidInGround, 0, inGround)
	if r := b.Reach; r != 0 && (r < catalog.LeastReach || r > catalog.MostReach) {
		c.refuse(b.ID, "reach", "an arm reaches between %s and %s; 0 takes what is usual", c.p.Feet(catalog.LeastReach),
			c.p.Feet(catalog.MostReach))
	}
	c.layers(b)
	c.boosts(b)
	c.idle(b)
	for name, l := range b.sizes() { // whether they matter now or not: they are kept
		if capped := b.Cap != NoCap && (name == "cap_in" || name == "cap_out"); l < 0 && !capped ||
			l > measure.MaxLength {
			c.refuse(b.ID, name, "%s is no size; from 0 to %s works", c.p.Feet(l), c.p.Feet(measure.MaxLength))
		}
	}
	if len(b.Kept) > mostKept || len(b.KeptWhy) > mostKept {
		c.refuse(b.ID, "keep", "%d findings are kept as they are; up to %d work", len(b.Kept), mostKept)
	}
	for _, code := range b.Kept {
		if len(code) > 40 || !Visible(code) {
			c.refuse(b.ID, "keep", "a finding's code is up to 40 letters")
		}
	}
	for _, code := range slices.Sorted(maps.Keys(b.KeptWhy)) {
		if why := b.KeptWhy[code]; len(code) > 40 || utf8.RuneCountInString(why) > MaxNote || !Visible(why) {
			c.refuse(b.ID, "keep", "a note is one line of up to %d letters", MaxNote)
		}
	}
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
	if b.Width > b.Length && !system.AnyWay {
		c.refuse(
			b.ID,
			"width",
			"%s would be wider than the bed is long (%s); the longer size goes first, so give up to %s",
			c.p.Feet(b.Width),
			c.p.Feet(b.Length),
			c.p.Feet(b.Length),
		)
	}
	if system.Follow != nil {
		followed := b.Copied()
		if system.Follow(&followed, c.cat, func(string) bool { return false }); followed.Length != b.Length ||
			followed.Width != b.Width {
			c.refuse(
				b.ID,
				"length",
				"with its other sizes this bed is %s by %s; that works",
				c.p.Feet(followed.Length),
				c.p.Feet(followed.Width),
			)
			return
		}
	}
	board, _ := c.cat.Profile(b.Board)
	if least := board.Width/2 - b.Freeboard; b.Soil < least && !slices.Contains(system.Lacks, "board") {
		c.refuse(
			b.ID,
			"soil",
			"%s of soil is less than half a course of %s boards, %s wide: from %s works, or a narrower board",
			c.p.Short(b.Soil),
			board.Name,
			c.p.Short(board.Width),
			c.p.Short(least),
		)
	}
	if b.Cap != NoCap {
		c.capFits(b, board)
	}
	refuse := func(field, format string, args ...any) { c.refuse(b.ID, field, format, args...) }
	if system.Check != nil {
		system.Check(b, c.cat, refuse)
	}
	if len(c.errs) > before {
		return
	}
	for _, name := range system.Adds {
		if e := extraNamed(name); b.Has(name) && e.Check != nil {
			e.Check(b, c.cat, refuse)
		}
	}
}

// idle checks the common decisions that this bed does without at present. They are kept,
// and come back when it is built otherwise; so they have to be readable like the others.
func (c *checker) idle(b Bed) {
	for _, f := range fields {
		if _, has := FieldOf(b, f.Key); has || f.text == nil || f.Key == "name" || f.Kind == LayersField {
			continue
		}
		value := *f.text(&b)
		if f.Kind == NumberField {
			if err := f.countable(value); err != nil {
				c.refuse(b.ID, f.Key, "%v", err)
			}
			continue
		}
		known := f.choices == nil || !f.listed
		if !known {
			known = slices.ContainsFunc(f.choices(c.cat, &b), func(ch Choice) bool { return ch.Value == value })
		}
		if value == "" && f.empty {
			continue
		}
		if !known || value == "" || utf8.RuneCountInString(value) > mostWord || !Visible(value) {
			c.refuse(b.ID, f.Key, "%q is no “%s” there could be", value, strings.ToLower(f.Label))
		}
	}
}

// options checks that a bed has just its system's own decisions and those of
// the extras it has, and that their lengths can be read.
func (c *checker) options(b Bed, system System) {
	known := system.Own
	for _, name := range system.Adds {
		if b.Has(name) {
			known = append(slices.Clip(known), extraNamed(name).Fields...)
		}
	}
	for _, f := range known {
		value, ok := b.Options[f.Key]
		if !ok {
			c.refuse(b.ID, f.Key, "missing; it starts from %s", f.start(c.cat))
			continue
		}
		if utf8.RuneCountInString(value) > mostOption || !Visible(value) && value != "" {
			c.refuse(b.ID, f.Key, "up to %d letters on one line work", mostOption)
		}
		if f.Kind == LengthField {
			if _, err := measure.Parse(value, measure.Metric); err != nil {
				c.refuse(b.ID, f.Key, "%v", err)
			}
		}
		if f.Kind == PointsField {
			if _, err := ReadPoints(value, measure.Metric); err != nil {
				c.refuse(b.ID, f.Key, "%v", err)
			}
		}
	}
	for _, key := range slices.Sorted(maps.Keys(b.Options)) {
		if !slices.ContainsFunc(known, func(f Field) bool { return f.Key == key }) {
			c.refuse(b.ID, "options", "a %s has no decision called %q", strings.ToLower(system.Title), key)
		}
	}
	if b.Cap != NoCap && slices.Contains(system.Lacks, "cap") {
		c.refuse(b.ID, "cap", "a %s has no cap; %s works", strings.ToLower(system.Title), NoCap)
	}
}

// isRipped reports whether a bed's cap is ripped from a wider board.
func isRipped(b Bed) bool {
	s, _ := SystemNamed(b.System)
	return s.RippedCap
}

func (c *checker) capFits(b Bed, board catalog.Profile) {
	capBoard, _ := c.cat.Profile(b.CapProfile)
	share := capBoard.Width - board.Thickness
	if !c.cat.Sold(b.CapProfile, SpeciesFor(c.cat, b.CapProfile, b.Species)) {
		c.refuse(b.ID, "cap_profile", "%s is not sold", b.CapProfile)
	}
	switch {
	case capBoard.Width > b.Width && !isRipped(b):
		c.refuse(
			b.ID,
			"cap_profile",
			"a %s cap is %s wide, more than the %s of planting between two of them; a narrower board works, or a"+
				" wider bed",
			capBoard.Name,
			c.p.Short(capBoard.Width),
			c.p.Feet(b.Width),
		)
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
