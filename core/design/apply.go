package design

import (
	"errors"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"chamfer/core/catalog"
	"chamfer/core/measure"
	"chamfer/core/money"
)

// Refusal says why a value was not taken. The design stays as it was.
type Refusal struct {
	Bed    string // bed ID, empty for the project itself
	Field  string
	Value  string // as it was given
	Reason string // what is wrong and what would be accepted
}

func (r *Refusal) Error() string {
	where := r.Field
	if r.Bed != "" {
		where = r.Bed + "." + r.Field
	}
	return where + ": " + r.Reason
}

// Refusals returns every refusal in err, however it was joined or wrapped.
func Refusals(err error) []*Refusal {
	if err == nil {
		return nil
	}
	if r := (*Refusal)(nil); errors.As(err, &r) {
		if many, ok := err.(interface{ Unwrap() []error }); ok {
			var all []*Refusal
			for _, e := range many.Unwrap() {
				all = append(all, Refusals(e)...)
			}
			return all
		}
		return []*Refusal{r}
	}
	return nil
}

// Edit is one small change: a field of a bed (or, with no bed, of the project)
// and the text given for it.
type Edit struct {
	Bed, Field, Value string
}

// Apply returns a changed copy of d. The first value that cannot be read, or
// every rule the changed design breaks, comes back as [Refusal]s, and d itself
// is as it was.
//
// The cap's overhangs share out the cap board's width: where one of the two, or
// a board, changes, the other overhang takes what is left.
//
// No edit is taken and then lost: where another decision rules the one that is edited,
// that one is lifted where its system can do without it, and otherwise the edit is
// refused by the name of what rules it.
func Apply(d Design, cat *catalog.Catalog, edits ...Edit) (Design, error) {
	next := d.Copy()
	cat = d.Catalog(cat)
	for _, e := range edits {
		if e.Bed == "" && e.Field == "name" {
			next.Name = strings.TrimSpace(e.Value)
			continue
		}
		kind, rest, known := kindOf(e.Field)
		var bed *Bed
		if !known || kind.ofBed {
			var err error
			if bed, err = next.Bed(e.Bed); err != nil {
				return d, &Refusal{Bed: e.Bed, Field: e.Field, Value: e.Value, Reason: err.Error()}
			}
		}
		if known {
			c := &changing{&next, bed, cat}
			if err := kind.apply(c, rest, e.Value); err != nil {
				return d, refusal(bed, e, err)
			}
			cat = c.cat
			continue
		}
		f, ok := FieldOf(*bed, e.Field)
		if !ok {
			return d, &Refusal{Bed: e.Bed, Field: e.Field, Value: e.Value, Reason: bed.without(e.Field)}
		}
		if err := f.set(bed, cat, e.Value); err != nil {
			return d, &Refusal{Bed: bed.ID, Field: e.Field, Value: e.Value, Reason: err.Error()}
		}
		for i := 0; f.Whole && i < len(next.Beds); i++ {
			*f.text(&next.Beds[i]) = f.value(*bed)
		}
	}
	asked := next.Copy()
	for i := range next.Beds {
		b := &next.Beds[i]
		b.lift(edits)
		b.shareCap(cat, edits)
		s, _ := SystemNamed(b.System)
		if s.Follow != nil {
			s.Follow(b, cat, func(field string) bool { return touched(edits, b.ID, field) })
		}
		b.fitOutside(cat, edits, func(b *Bed) {
			if s.Follow != nil {
				s.Follow(b, cat, func(string) bool { return false })
			}
		})
	}
	if err := overruled(d, asked, &next, edits, cat); err != nil {
		return d, err
	}
	if err := next.check(cat, &d); err != nil {
		for _, r := range Refusals(err) {
			for _, e := range edits {
				if e.Field == r.Field {
					r.Value = e.Value
				}
			}
		}
		return d, err
	}
	return next, nil
}

// refusal says of an edit why it was not taken; what is one already stays as it is.
func refusal(bed *Bed, e Edit, err error) error {
	if r := (*Refusal)(nil); errors.As(err, &r) {
		return err
	}
	r := &Refusal{Field: e.Field, Value: e.Value, Reason: err.Error()}
	if bed != nil {
		r.Bed = bed.ID
	}
	return r
}

// lift lets go of the decisions that rule the sizes asked for, where they are not asked
// for as well.
func (b *Bed) lift(edits []Edit) {
	s, _ := SystemNamed(b.System)
	if s.Ruled == nil {
		return
	}
	for _, e := range edits {
		ruling := ""
		if e.Bed == b.ID || e.Bed == "" {
			ruling = s.Ruled(*b, e.Field)
		}
		if f, ok := FieldOf(*b, ruling); ok && f.Kind == NumberField && !touched(edits, b.ID, ruling) {
			b.option(ruling, Auto)
		}
	}
}

// overruled refuses edits that the changed design does not show: asked is as they were
// given, next what came of it. What an edit of the same list has made pointless (the
// overhang of a cap that is taken off) goes back to what it was.
func overruled(d, asked Design, next *Design, edits []Edit, cat *catalog.Catalog) error {
	p := cat.Precision(cat.Habits)
	var errs []error
	for _, e := range edits {
		want, err := asked.Bed(e.Bed)
		got, err2 := next.Bed(e.Bed)
		if err != nil || err2 != nil || strings.Contains(e.Field, ":") {
			continue
		}
		refuse := func(format string, args ...any) {
			errs = append(
				errs,
				&Refusal{Bed: got.ID, Field: e.Field, Value: e.Value, Reason: fmt.Sprintf(format, args...)},
			)
		}
		f, ok := FieldOf(*got, e.Field)
		if before, err := d.Bed(got.ID); !ok && err == nil { // it had it, and is built otherwise now
			if f, ok := FieldOf(*before, e.Field); ok {
				refuse("%s", got.without(f.Key))
			}
		}
		if !ok || f.Key == "system" {
			continue
		}
		if f.Cap && !f.Matters(*got) {
			before, err := d.Bed(got.ID)
			if err != nil || !f.Matters(*before) {
				refuse("there is no cap here yet; choose one first")
			} else if f.length != nil {
				*f.length(got) = f.LengthOf(*before)
			}
			continue
		}
		if f.exact(*want) == f.exact(*got) {
			continue
		}
		system, _ := SystemNamed(got.System)
		by := "its other decisions"
		if system.Ruled != nil {
			if r, ok := FieldOf(*got, system.Ruled(*got, e.Field)); ok {
				by = fmt.Sprintf("“%s”, which is %s", r.Label, r.Text(*got, p))
			}
		}
		refuse("it follows from %s, and stays %s: leave one of the two as it was", by, f.Text(*got, p))
	}
	return errors.Join(errs...)
}

// exact is the field's value, whatever its kind, to compare.
func (f Field) exact(b Bed) string {
	if f.Kind == LengthField {
		return f.LengthOf(b).String()
	}
	return f.value(b)
}

// without says that a bed has no such decision.
func (b *Bed) without(key string) string {
	s, _ := SystemNamed(b.System)
	if i := slices.IndexFunc(fields, func(f Field) bool { return f.Key == key }); i >= 0 {
		return fmt.Sprintf(
			"a %s does without “%s”: change how it is built first",
			strings.ToLower(s.Title),
			strings.ToLower(fields[i].Label),
		)
	}
	if label := labelOf(key); label != "" {
		return fmt.Sprintf(
			"a %s has no “%s”: change how it is built first",
			strings.ToLower(s.Title),
			strings.ToLower(label),
		)
	}
	return fmt.Sprintf(
		"a %s has nothing that is called so: choose among what its page offers",
		strings.ToLower(s.Title),
	)
}

// labelOf is what a decision is called on the pages, whichever system or extra has it.
func labelOf(key string) string {
	is := func(f Field) bool { return f.Key == key }
	for _, s := range registered {
		if i := slices.IndexFunc(s.decisions, is); i >= 0 {
			return s.decisions[i].Label
		}
	}
	return ""
}

// mostUnits is how many blocks of one's own a project holds, mostUnitText how many letters
// describe one.
const (
	mostUnits    = 20
	mostUnitText = 200
)

// ownUnit takes a block in that someone measured.
func (d *Design) ownUnit(text string, sys measure.System) error {
	if _, err := catalog.ParseUnit(text, sys); err != nil {
		return err
	}
	if len(d.Units) >= mostUnits {
		return fmt.Errorf("this project holds %d blocks of your own already", mostUnits)
	}
	if d.Units == nil {
		d.Units = map[string]string{}
	}
	for n := 1; ; n++ {
		id := fmt.Sprintf("own-%d", n)
		if _, taken := d.Units[id]; !taken {
			d.Units[id] = text
			return nil
		}
	}
}

// mostTimbers is how many timbers of one's own a project holds, mostTimberText how many letters describe one.
const (
	mostTimbers    = 10
	mostTimberText = 1000
)

// ownTimber takes a timber in that someone tells of.
func (d *Design) ownTimber(text string, cat *catalog.Catalog) error {
	s, _, err := cat.ParseTimber(text)
	if err != nil {
		return err
	}
	if _, taken := d.Timbers[s.ID]; taken {
		return fmt.Errorf("this project has a wood called %q already: call this one something else", s.Name)
	}
	if len(d.Timbers) >= mostTimbers {
		return fmt.Errorf("this project holds %d woods of your own already", mostTimbers)
	}
	if d.Timbers == nil {
		d.Timbers = map[string]string{}
	}
	d.Timbers[s.ID] = text
	return nil
}

// Catalog is a catalogue with what is the project's own: what its shops ask, boards as measured,
// blocks and timbers that were told of.
func (d Design) Catalog(cat *catalog.Catalog) *catalog.Catalog {
	return d.selling(cat).Measured(d.Measured).Owning(d.Units).WithTimbers(d.Timbers).Lacking(d.Without)
}

// setPrice writes down what this shop asks for something; an empty value goes back to
// the catalogue's.
func (d *Design) setPrice(sku, value string, cat *catalog.Catalog) error {
	if strings.TrimSpace(value) == "" {
		delete(d.Prices, sku)
		return nil
	}
	a, err := money.Parse(value)
	if err != nil {
		return &Refusal{Field: "price:" + sku, Value: value, Reason: err.Error()}
	}
	if d.Prices == nil {
		d.Prices = map[string]money.Amount{}
	}
	if !cat.Sells(sku) {
		return &Refusal{Field: "price:" + sku, Value: value, Reason: "nothing with this number is sold here"}
	}
	if _, there := d.Prices[sku]; !there && len(d.Prices) >= MaxPrices {
		return &Refusal{
			Field:  "price:" + sku,
			Value:  value,
			Reason: "this project already holds as many prices as it can",
		}
	}
	d.Prices[sku] = a
	return nil
}

// mostHad is as many of one screw as anyone owns.
const mostHad = 100_000

// setHave says how many of a fixing, of a block, or packs of something loose or of soil are
// there already; nothing or 0 forgets it.
func (d *Design) setHave(id, value string, cat *catalog.Catalog) error {
	if !cat.Counted(id) {
		return fmt.Errorf("nothing is sold here as %q", id)
	}
	return counted(&d.Have, id, value)
}

// setBroken says how many of a block broke.
func (d *Design) setBroken(id, value string, cat *catalog.Catalog) error {
	if !slices.ContainsFunc(cat.Units, func(u catalog.Unit) bool { return u.ID == id }) {
		return fmt.Errorf("no block is sold here as %q", id)
	}
	return counted(&d.Broken, id, value)
}

// counted sets how many there are of something; nothing or 0 forgets it.
func counted(of *map[string]int, id, value string) error {
	value = strings.TrimSpace(value)
	if value == "" || value == "0" {
		delete(*of, id)
		return nil
	}
	n, err := strconv.Atoi(value)
	if err != nil || n < 0 || n > mostHad {
		return fmt.Errorf("%q is no number of them: 0 to %d works", value, mostHad)
	}
	if *of == nil {
		*of = map[string]int{}
	}
	(*of)[id] = n
	return nil
}

// measure sets the width or thickness of a profile as someone found it,
// "2x6:width"; an empty value goes back to the catalogue's.
func (d *Design) measure(what, value string, cat *catalog.Catalog) error {
	id, side, _ := strings.Cut(what, ":")
	p, err := cat.Profile(id)
	if err != nil || side != "width" && side != "thickness" {
		return fmt.Errorf("%q is no board's width or thickness", what)
	}
	if strings.TrimSpace(value) == "" {
		delete(d.Measured, id)
		return nil
	}
	l, err := measure.Parse(value, cat.System)
	if err != nil {
		return err
	}
	if d.Measured == nil {
		d.Measured = map[string]catalog.Section{}
	}
	s, ok := d.Measured[id]
	if !ok {
		s = catalog.Section{Thickness: p.Thickness, Width: p.Width}
	}
	if side == "width" {
		s.Width = l
	} else {
		s.Thickness = l
	}
	d.Measured[id] = s
	return nil
}

// MaxNote is how long a note to a project or a finding may be, in letters.
const MaxNote = 300

// keep adds or removes a finding's code from those the gardener lives with; a note may
// follow it after a colon.
func (b *Bed) keep(value string) {
	code, note, _ := strings.Cut(value, ":")
	code, note = strings.TrimSpace(code), strings.Join(strings.Fields(note), " ")
	if r := []rune(note); len(r) > MaxNote {
		note = string(r[:MaxNote])
	}
	if i := slices.Index(b.Kept, code); i >= 0 {
		b.Kept = slices.Delete(b.Kept, i, i+1)
		if delete(b.KeptWhy, code); len(b.KeptWhy) == 0 {
			b.KeptWhy = nil
		}
		return
	}
	b.Kept = append(b.Kept, code)
	if note != "" {
		if b.KeptWhy == nil {
			b.KeptWhy = map[string]string{}
		}
		b.KeptWhy[code] = note
	}
}

// touched reports whether edits are of a decision of a bed.
func touched(edits []Edit, bed, field string) bool {
	return slices.ContainsFunc(edits, func(e Edit) bool {
		return (e.Field == field || e.drags(field)) && (e.Bed == bed || e.Bed == "")
	})
}

func (b *Bed) shareCap(cat *catalog.Catalog, edits []Edit) {
	touched := func(field string) bool { return touched(edits, b.ID, field) }
	if system, _ := SystemNamed(b.System); system.RippedCap || b.Cap == NoCap {
		return // it shares its width out where there is one
	}
	capBoard, err := cat.Profile(b.CapProfile)
	board, err2 := cat.Profile(b.Board)
	if err != nil || err2 != nil {
		return
	}
	share := capBoard.Width - board.Thickness
	switch in, out := touched("cap_in"), touched("cap_out"); {
	case in && out:
	case in:
		b.CapOut = share - b.CapIn
	case out:
		b.CapIn = share - b.CapOut
	case touched("cap_profile") || touched("board") || touched("cap"):
		b.CapOut = max(0, min(b.CapOut, share))
		b.CapIn = max(0, share-b.CapOut)
	}
}
