package design

import (
	"fmt"
	"slices"
	"strings"

	"chamfer/core/catalog"
)

// System is a way to build a bed: what it is called, which of the common
// decisions it has, which are its own, what it starts from and what it cannot
// build. A system is one file with its builder, which registers it here.
type System struct {
	Name  string   // as files write it: "boarded"
	Title string   // as people say it
	About string   // the reason to choose it
	Uses  []string // keys of the common decisions that matter to it, besides those of every bed
	Own   []Field  // its own decisions, kept in Bed.Options
	// Start sets sensible defaults on a bed that changes to this system; sizes,
	// timber and place stay as they were asked, where the system can build them.
	Start func(*catalog.Catalog, *Bed)
	// Check refuses what cannot be built. It is called on beds whose numbers are
	// within their ranges.
	Check func(Bed, *catalog.Catalog, Refuse)

	decisions []Field // all of them, put together once
}

// Refuse takes the field that is wrong and a sentence on what would work.
type Refuse func(field, format string, args ...any)

// registered systems, in the order they are offered. Builders register while
// the program starts; after that the list is only read.
var registered []System

// Register adds a system. It is for builders, while the program starts; a name
// that is taken is a fault of the program.
func Register(s System) {
	if _, ok := SystemNamed(s.Name); ok {
		panic("design: two systems are called " + s.Name)
	}
	for _, f := range fields {
		if slices.Contains(everyBed, f.Key) || slices.Contains(s.Uses, f.Key) {
			s.decisions = append(s.decisions, f)
		}
	}
	s.decisions = append(s.decisions, s.Own...)
	registered = append(registered, s)
}

// Systems lists the registered systems.
func Systems() []System { return registered }

// SystemNamed finds a system.
func SystemNamed(name string) (System, bool) {
	i := slices.IndexFunc(registered, func(s System) bool { return s.Name == name })
	if i < 0 {
		return System{}, false
	}
	return registered[i], true
}

// everyBed are the common decisions that every system has.
var everyBed = []string{"access", "name", "count", "system", "length", "width", "soil", "freeboard", "board", "species",
	"cap", "cap_profile", "cap_in", "cap_out", "soil_by"}

// systemChoices offers the registered systems.
func systemChoices(*catalog.Catalog, *Bed) []Choice {
	var list []Choice
	for _, s := range registered {
		list = append(list, Choice{s.Name, s.Title, s.About})
	}
	return list
}

// become turns a bed over to a system: its own decisions start from their
// defaults, the common ones stay.
func (b *Bed) become(name string, cat *catalog.Catalog) error {
	s, ok := SystemNamed(name)
	if !ok {
		return fmt.Errorf("there is no building system %q; there is %s", name, strings.Join(systemNames(), ", "))
	}
	b.System, b.Options = name, nil
	for _, f := range s.Own {
		b.option(f.Key, f.Default)
	}
	if s.Start != nil {
		s.Start(cat, b)
	}
	return nil
}

func systemNames() []string {
	var names []string
	for _, s := range registered {
		names = append(names, s.Name)
	}
	return names
}

func (b *Bed) option(key, value string) {
	if b.Options == nil {
		b.Options = map[string]string{}
	}
	b.Options[key] = value
}

// FieldsOf lists a bed's decisions in the order of work: the common ones its
// system has, then its own. The list is not to be changed.
func FieldsOf(b Bed) []Field {
	s, _ := SystemNamed(b.System)
	return s.decisions
}

// FieldOf finds one of a bed's decisions.
func FieldOf(b Bed, key string) (Field, bool) {
	for _, f := range FieldsOf(b) {
		if f.Key == key {
			return f, true
		}
	}
	return Field{}, false
}
