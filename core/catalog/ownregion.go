package catalog

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"maps"
	"slices"
	"strings"
	"sync"
	"unicode"

	"chamfer/core/measure"
)

// RegionFormat is the value of the format key in a file of a region.
const RegionFormat = "chamfer-region/1"

// regionTables are what a region sells, each the name of a table and the column that tells its things apart.
var regionTables = []struct{ name, id string }{{"profiles", "id"}, {"species", "id"}, {"bending", "species"},
	{"timber_prices", ""}, {"fixings", "id"}, {"sheets", "id"}, {"fittings", "id"}, {"fills", "id"}, {"materials", "id"},
	{"finishes", "id"}, {"boosters", "id"}, {"units", "id"}, {"loose", "id"}}

// regionFile is a region as a file: what it is like, what of that is otherwise, what it sells besides or in place of
// that, and what of that it does not sell.
type regionFile struct {
	Format  string                         `json:"format"`
	Like    string                         `json:"like"`
	Region  json.RawMessage                `json:"region"`
	Tables  map[string][]map[string]string `json:"tables,omitempty"`
	Without map[string][]string            `json:"without,omitempty"`
}

const (
	mostRegionRows = 5000
	mostRegionText = 400
)

// ReadRegion reads a region of one's own from its file. Every fault is told, each with where it stands.
func ReadRegion(raw []byte) (*Catalog, error) {
	var f regionFile
	in := json.NewDecoder(bytes.NewReader(raw))
	in.DisallowUnknownFields()
	if err := in.Decode(&f); err != nil {
		return nil, fmt.Errorf("the file of a region: %w", err)
	}
	if f.Format != RegionFormat {
		return nil, fmt.Errorf("format: this is %q; the file of a region says %q", f.Format, RegionFormat)
	}
	like, err := ForRegion(f.Like)
	if err != nil {
		return nil, fmt.Errorf("like: %w", err)
	}
	c := *like
	c.Habits, c.Reach, c.Passages = like.Habits, maps.Clone(like.Reach), maps.Clone(like.Passages)
	c.Drills = slices.Clone(like.Drills)
	own := json.NewDecoder(bytes.NewReader(f.Region))
	own.DisallowUnknownFields()
	if err := own.Decode(&c); err != nil {
		return nil, fmt.Errorf("region: %w", err)
	}
	for _, list := range []any{&c.Profiles, &c.Species, &c.Offers, &c.Fixings, &c.Sheets, &c.Fittings, &c.Units, &c.Loose,
		&c.Fills, &c.Materials, &c.Finishes, &c.Boosters} {
		cloned(list)
	}
	t := &tables{byID: map[string]*Catalog{c.ID: &c}, over: true, rows: func(file string) (list []cells, err error) {
		name := strings.TrimSuffix(file, ".csv")
		for i, r := range f.Tables[name] {
			one := cells{where: fmt.Sprintf("tables.%s, row %d", name, i+1), by: maps.Clone(r)}
			one.by["region"] = c.ID
			list = append(list, one)
		}
		return list, nil
	}}
	rows := 0
	for name, list := range f.Tables {
		if !slices.ContainsFunc(regionTables, func(k struct{ name, id string }) bool { return k.name == name }) {
			t.errs = append(t.errs, fmt.Errorf("tables: %q is none of them", name))
		}
		rows += len(list)
		known, err := embedded(name + ".csv")
		if err != nil || len(known) == 0 {
			continue
		}
		for i, r := range list {
			for _, column := range slices.Sorted(maps.Keys(r)) {
				text := r[column]
				if _, ok := known[0].by[column]; !ok || column == "region" {
					t.errs = append(t.errs, fmt.Errorf("tables.%s, row %d: %q is none of its columns", name, i+1, column))
				}
				if len(text) > mostRegionText || strings.ContainsFunc(text, unicode.IsControl) {
					t.errs = append(t.errs, fmt.Errorf("tables.%s, row %d, %s: up to %d letters on one line work", name, i+1, column,
						mostRegionText))
				}
			}
		}
	}
	if rows > mostRegionRows {
		return nil, fmt.Errorf("tables: more than %d rows", mostRegionRows)
	}
	for name, ids := range f.Without {
		for _, id := range ids {
			if !c.doWithout(name, id) {
				t.errs = append(t.errs, fmt.Errorf("without.%s: %q is not sold in %s", name, id, like.ID))
			}
			if name == "profiles" || name == "species" { // nor any length of it
				c.Offers = slices.DeleteFunc(c.Offers, func(o Offer) bool {
					return name == "profiles" && o.Profile == id || name == "species" && o.Species == id
				})
			}
		}
	}
	t.all()
	c.sorted()
	if err := errors.Join(append(t.errs, c.whole(like)...)...); err != nil {
		return nil, err
	}
	return &c, nil
}

// cloned parts a list from the one it was.
func cloned(list any) {
	switch l := list.(type) {
	case *[]Profile:
		*l = slices.Clone(*l)
	case *[]Species:
		*l = slices.Clone(*l)
	case *[]Offer:
		*l = slices.Clone(*l)
	case *[]Fixing:
		*l = slices.Clone(*l)
		for i := range *l {
			(*l)[i].Packs = slices.Clone((*l)[i].Packs)
		}
	case *[]Sheet:
		*l = slices.Clone(*l)
	case *[]Fitting:
		*l = slices.Clone(*l)
	case *[]Unit:
		*l = slices.Clone(*l)
	case *[]Loose:
		*l = slices.Clone(*l)
	case *[]Fill:
		*l = slices.Clone(*l)
	case *[]Material:
		*l = slices.Clone(*l)
	case *[]Finish:
		*l = slices.Clone(*l)
	case *[]Booster:
		*l = slices.Clone(*l)
	}
}

// giveWay takes out what a row of a region's own takes the place of, once.
func (c *Catalog) giveWay(file string, r row, gone map[string]bool) {
	name := strings.TrimSuffix(file, ".csv")
	id := r.text("id")
	switch name {
	case "bending":
		id = r.text("species")
	case "timber_prices":
		id = r.text("profile") + "/" + r.text("species") + "/" + shopLength(r.length("length"))
	case "fixings":
		id += "/" + r.text("pack")
	}
	if !gone[id] {
		gone[id] = true
		c.doWithout(name, id)
	}
}

// doWithout takes a thing out of what is sold, and tells whether it was there.
func (c *Catalog) doWithout(table, id string) (was bool) {
	drop := func(is bool) bool {
		was = was || is
		return is
	}
	switch table {
	case "profiles":
		c.Profiles = slices.DeleteFunc(c.Profiles, func(p Profile) bool { return drop(p.ID == id) })
	case "species":
		c.Species = slices.DeleteFunc(c.Species, func(s Species) bool { return drop(s.ID == id) })
	case "bending":
		for i := range c.Species {
			if s := &c.Species[i]; s.ID == id {
				was, s.Bending = true, nil
			}
		}
	case "timber_prices":
		c.Offers = slices.DeleteFunc(c.Offers, func(o Offer) bool { return drop(o.SKU == id) })
	case "fixings":
		for i := range c.Fixings {
			f := &c.Fixings[i]
			f.Packs = slices.DeleteFunc(slices.Clone(f.Packs), func(k Pack) bool { return drop(k.SKU == id || f.ID == id) })
		}
		c.Fixings = slices.DeleteFunc(c.Fixings, func(f Fixing) bool { return len(f.Packs) == 0 })
	case "sheets":
		c.Sheets = slices.DeleteFunc(c.Sheets, func(s Sheet) bool { return drop(s.ID == id) })
	case "fittings":
		c.Fittings = slices.DeleteFunc(c.Fittings, func(f Fitting) bool { return drop(f.ID == id) })
	case "fills":
		c.Fills = slices.DeleteFunc(c.Fills, func(f Fill) bool { return drop(f.ID == id) })
	case "materials":
		c.Materials = slices.DeleteFunc(c.Materials, func(m Material) bool { return drop(m.ID == id) })
	case "finishes":
		c.Finishes = slices.DeleteFunc(c.Finishes, func(f Finish) bool { return drop(f.ID == id) })
	case "boosters":
		c.Boosters = slices.DeleteFunc(c.Boosters, func(b Booster) bool { return drop(b.ID == id) })
	case "units":
		c.Units = slices.DeleteFunc(c.Units, func(u Unit) bool { return drop(u.ID == id) })
	case "loose":
		c.Loose = slices.DeleteFunc(c.Loose, func(l Loose) bool { return drop(l.ID == id) })
	}
	return was
}

// whole tells what of a region makes no sense.
func (c *Catalog) whole(like *Catalog) (errs []error) {
	no := func(format string, args ...any) { errs = append(errs, fmt.Errorf(format, args...)) }
	if c.ID == like.ID || c.ID != Slug(c.ID) || c.ID == "" || len(c.ID) > 20 {
		no("region.id: %q is no name for it; up to 20 small letters, digits and hyphens work, and none that there is", c.ID)
	}
	if c.Name == "" || c.Name == like.Name || len(c.Name) > 80 || strings.ContainsFunc(c.Name, unicode.IsControl) {
		no("region.name: a name of its own works, of up to 80 letters")
	}
	if c.System != measure.Imperial && c.System != measure.Metric {
		no("region.system: %q is neither imperial nor metric", c.System)
	}
	if len(c.Currency.Code) != 3 || c.Currency.Symbol == "" || len(c.Currency.Symbol) > 8 {
		no("region.currency: a code of three letters and a symbol work")
	}
	if err := c.Habits.Check(); err != nil {
		no("region.habits: %w", err)
	}
	sized := func(what string, list ...measure.Length) {
		for _, l := range list {
			if l < measure.Millimetre/10 || l > 20*measure.Metre {
				no("%s: %s is no size of it", what, l)
			}
		}
	}
	for _, p := range c.Profiles {
		sized("profile "+p.ID, p.Thickness, p.Width)
		if !slices.Contains([]ProfileKind{Board, Post, Stake, Sleeper, Panel}, p.Kind) {
			no("profile %s: %q is nothing that timber is sold for", p.ID, p.Kind)
		}
	}
	for _, s := range c.Species {
		if len(s.Bending) == 0 || s.E <= 0 || s.Density <= 0 || s.Shear <= 0 || s.Crush <= 0 || s.LifeMin < 1 ||
			s.LifeMax < s.LifeMin {
			no("species %s: its strength, its weight and its years are told, and how it bends in a row of bending", s.ID)
		}
		if !slices.Contains([]string{"nds", "ec5", "apa", "ec5-panel"}, s.Method) {
			no("species %s: %q is none of the codes its strength may be of", s.ID, s.Method)
		}
	}
	for _, o := range c.Offers {
		_, err := c.Profile(o.Profile)
		_, err2 := c.SpeciesOf(o.Species)
		if err != nil || err2 != nil {
			no("timber price %s: its profile and its species are sold too", o.SKU)
		}
		sized("timber price "+o.SKU, o.Length)
	}
	for _, u := range c.Units {
		sized("unit "+u.ID, u.Length, u.Depth, u.Height)
		for _, other := range []string{u.Half, u.Left, u.Right} {
			if _, err := c.Unit(other); other != "" && err != nil {
				no("unit %s: %s, which goes with it, is sold too", u.ID, other)
			}
		}
	}
	for _, f := range c.Fills {
		if _, err := c.Material(f.Of); err != nil || f.Pack <= 0 || f.Kind != Bag && f.Kind != InBulk {
			no("fill %s: it is of a material, by the bag or loose, and a pack holds something", f.ID)
		}
	}
	seen := map[string]bool{}
	for _, w := range c.Wares() {
		if seen[w.SKU] {
			no("%s: two things are called so", w.SKU)
		}
		if seen[w.SKU] = true; w.Price <= 0 || w.Name == "" || strings.ContainsAny(w.SKU, Elsewhere+";") {
			no("%s: it has a name, a price above nothing, and no %s or ; in its number", w.SKU, Elsewhere)
		}
	}
	return errs
}

// WriteRegion writes a region as the file of another that is like it, with another id and name and all its tables, to
// be changed.
func WriteRegion(like, id, name string) ([]byte, error) {
	if _, err := ForRegion(like); err != nil {
		return nil, err
	}
	raw, err := data.ReadFile("data/regions.json")
	if err != nil {
		return nil, err
	}
	var list []map[string]any
	if err := json.Unmarshal(raw, &list); err != nil {
		return nil, err
	}
	i := slices.IndexFunc(list, func(m map[string]any) bool { return m["id"] == like })
	if i < 0 {
		return nil, fmt.Errorf("%q is not one of the program's own", like)
	}
	list[i]["id"], list[i]["name"] = id, name
	f := regionFile{Format: RegionFormat, Like: like, Tables: map[string][]map[string]string{}}
	if f.Region, err = json.Marshal(list[i]); err != nil {
		return nil, err
	}
	for _, t := range regionTables {
		rows, err := embedded(t.name + ".csv")
		if err != nil {
			return nil, err
		}
		for _, r := range rows {
			if r.by["region"] == like {
				maps.DeleteFunc(r.by, func(column, text string) bool { return column == "region" || text == "" })
				f.Tables[t.name] = append(f.Tables[t.name], r.by)
			}
		}
	}
	return json.MarshalIndent(f, "", " ")
}

// own are the regions that were added when the program began.
var own struct {
	sync.RWMutex
	list []*Catalog
}

// Add adds a region of one's own to those that there are, before anything is planned.
func Add(c *Catalog) error {
	own.Lock()
	defer own.Unlock()
	for _, o := range append(regions(), own.list...) {
		if o.ID == c.ID || o.Name == c.Name {
			return fmt.Errorf("there is a region %s, %s, already", o.ID, o.Name)
		}
	}
	own.list = append(own.list, c)
	return nil
}
