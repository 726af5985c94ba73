package design

import (
	"encoding/json"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"chamfer/core/catalog"
	"chamfer/core/measure"
)

// Planting is one crop on a piece of a bed's soil: a rectangle from the left front corner of one of its surfaces.
type Planting struct {
	Crop string         `json:"crop"`
	Soil int            `json:"soil,omitempty"` // which surface, from 0
	X    measure.Length `json:"x"`
	Y    measure.Length `json:"y"`
	Wide measure.Length `json:"wide"`
	Deep measure.Length `json:"deep"`
	How  string         `json:"how,omitempty"`  // "" each way, "rows" along, "across"
	Kept bool           `json:"kept,omitempty"` // placed by hand: nothing moves it
	Sown string         `json:"sown,omitempty"` // on the day, "2027-05-03"
	Set  string         `json:"set,omitempty"`  // out, or planted, on the day
}

// Want is so many plants of a crop, or as many as a part of the bed takes.
type Want struct {
	Crop  string `json:"crop"`
	N     int    `json:"n,omitempty"`
	Share int    `json:"share,omitempty"` // percent of the bed; 0 where a number is wanted
}

// Text is how much is wanted as it is typed, "12" or "25 %".
func (w Want) Text() string {
	if w.Share > 0 {
		return fmt.Sprintf("%d %%", w.Share)
	}
	return strconv.Itoa(w.N)
}

// Grown is a planting of an earlier year, with what came of it.
type Grown struct {
	Year int `json:"year"`
	Planting
	Got    string `json:"got,omitempty"`    // harvested, as it was weighed or counted
	Failed bool   `json:"failed,omitempty"` // or it was lost
	Note   string `json:"note,omitempty"`
}

// PlantingWays are how a patch is planted.
var PlantingWays = []Choice{{"", "each way", "as close as the crop allows"},
	{"rows", "in rows along", "room for a hoe between"}, {"across", "in rows across", "room for a hoe between"}}

// Limits of what is planted.
const (
	mostPlantings = 120
	mostGrown     = 600
	mostWanted    = 2000
	leastPatch    = 25 * measure.Millimetre
	largestPatch  = 12 * measure.Metre
	mostGot       = 80
)

// Cell is how far strings lie apart over a bed at least: as it was decided, or a foot.
func (b Bed) Cell(cat *catalog.Catalog) measure.Length {
	if _, has := b.Options["grid_cell"]; has && b.Options["grid"] != "none" {
		if cell := b.OptionLength("grid_cell"); cell > 0 {
			return cell
		}
	}
	return cat.Told(12*measure.Inch, 300*measure.Millimetre)
}

// setPlant changes one planting, or sets all of them.
func (b *Bed) setPlant(key, value string, cat *catalog.Catalog) error {
	value = strings.TrimSpace(value)
	if key == "all" { // as they were laid out
		var list []Planting
		if err := json.Unmarshal([]byte(value), &list); err != nil {
			return fmt.Errorf("plantings that cannot be read: %w", err)
		}
		b.Plants = list
		return nil
	}
	if key == "add" {
		crop, rest, _ := strings.Cut(value, ";")
		p := Planting{Crop: strings.TrimSpace(crop), Kept: true}
		if err := p.put(rest, cat); err != nil {
			return err
		}
		b.Plants = append(slices.Clone(b.Plants), p)
		return nil
	}
	n, err := strconv.Atoi(key)
	if err != nil || n < 0 || n >= len(b.Plants) {
		return fmt.Errorf("there is no planting %q in this bed", key)
	}
	b.Plants = slices.Clone(b.Plants)
	p := &b.Plants[n]
	switch verb, rest, _ := strings.Cut(value, " "); {
	case value == "remove":
		b.Plants = slices.Delete(b.Plants, n, n+1)
	case value == "keep":
		p.Kept = true
	case value == "free":
		p.Kept = false
	case verb == "how":
		p.How = strings.TrimSpace(strings.TrimPrefix(rest, "each"))
	case verb == "crop":
		p.Crop = rest
	case verb == "sown":
		p.Sown, p.Kept = strings.TrimSpace(rest), true // what is in the ground stays where it is
	case verb == "set":
		p.Set, p.Kept = strings.TrimSpace(rest), true
	default:
		p.Kept = true
		return p.put(value, cat)
	}
	return nil
}

// put reads where a planting is: "soil; x; y; wide; deep".
func (p *Planting) put(text string, cat *catalog.Catalog) error {
	parts := strings.Split(text, ";")
	if len(parts) != 5 {
		return fmt.Errorf("%q is no place: give which surface, how far from its left and front, how wide and deep", text)
	}
	soil, err := strconv.Atoi(strings.TrimSpace(parts[0]))
	if err != nil {
		return fmt.Errorf("%q is no surface of the bed", parts[0])
	}
	p.Soil = soil
	for i, to := range []*measure.Length{&p.X, &p.Y, &p.Wide, &p.Deep} {
		l, err := measure.Parse(strings.TrimSpace(parts[i+1]), cat.System)
		if err != nil {
			return err
		}
		*to = l
	}
	return nil
}

// setWant says how many plants of a crop are wanted, "12", or how much of the bed, "25 %"; none takes it off the list.
func (b *Bed) setWant(crop, value string) error {
	text, percent := strings.CutSuffix(strings.TrimSpace(value), "%")
	n, err := strconv.Atoi(strings.TrimSpace(text))
	if text == "" {
		n, err = 0, nil
	}
	if err != nil || n < 0 || n > mostWanted || percent && n > 100 {
		return fmt.Errorf("%q is no number of plants: 0 to %d works, or part of the bed, like 25 %%", value, mostWanted)
	}
	want := Want{Crop: crop, N: n}
	if percent {
		want = Want{Crop: crop, Share: n}
	}
	b.Wants = slices.DeleteFunc(slices.Clone(b.Wants), func(w Want) bool { return w.Crop == crop && n == 0 })
	if i := slices.IndexFunc(b.Wants, func(w Want) bool { return w.Crop == crop }); i >= 0 {
		b.Wants[i] = want
	} else if n > 0 {
		b.Wants = append(b.Wants, want)
	}
	return nil
}

// setGrown ends a season, or takes down what came of a planting of one.
func (b *Bed) setGrown(key, value string) error {
	value = strings.TrimSpace(value)
	if key == "season" {
		year, err := strconv.Atoi(value)
		if err != nil || year < 1950 || year > 2100 {
			return fmt.Errorf("%q is no year: 1950 to 2100 works", value)
		}
		if len(b.Plants) == 0 {
			return fmt.Errorf("nothing is planted that could be written down for %d", year)
		}
		b.Grown = slices.Clone(b.Grown)
		for _, p := range b.Plants {
			b.Grown = append(b.Grown, Grown{Year: year, Planting: p})
		}
		b.Plants = nil
		return nil
	}
	at, what, _ := strings.Cut(key, ".")
	n, err := strconv.Atoi(at)
	if err != nil || n < 0 || n >= len(b.Grown) {
		return fmt.Errorf("there is no planting %q of earlier years in this bed", at)
	}
	b.Grown = slices.Clone(b.Grown)
	g := &b.Grown[n]
	switch what {
	case "got":
		g.Got = value
	case "note":
		g.Note = value
	case "sown":
		g.Sown = value
	case "set":
		g.Set = value
	case "failed":
		g.Failed = value == "yes"
	case "drop":
		b.Grown = slices.Delete(b.Grown, n, n+1)
	default:
		return fmt.Errorf("a planting of earlier years has no %q", what)
	}
	return nil
}

// plants refuses plantings that cannot be.
func (c *checker) plants(b Bed) {
	known := func(field, id string) {
		if _, ok := c.table.Named(id); !ok {
			c.refuse(b.ID, field, "%q is no crop that is known; choose one of the list", id)
		}
	}
	one := func(field string, p Planting) {
		known(field, p.Crop)
		if p.Soil < 0 || p.Soil > 50 {
			c.refuse(b.ID, field, "%d is no surface of the bed", p.Soil)
		}
		if p.X < 0 || p.Y < 0 || p.X > 100*measure.Metre || p.Y > 100*measure.Metre {
			c.refuse(b.ID, field, "it begins beside the bed: 0 and more from its left and its front works")
		}
		if min(p.Wide, p.Deep) < leastPatch || max(p.Wide, p.Deep) > largestPatch {
			c.refuse(b.ID, field, "%s by %s is no patch: from %s to %s each way works", c.p.Feet(p.Wide), c.p.Feet(p.Deep),
				c.p.AtLeast(leastPatch), c.p.AtMost(largestPatch))
		}
		for _, day := range []string{p.Sown, p.Set} {
			if _, err := ReadDay(day); day != "" && err != nil {
				c.refuse(b.ID, field, "%q is no day: write it like 2027-05-03", day)
			}
		}
		if !slices.ContainsFunc(PlantingWays, func(w Choice) bool { return w.Value == p.How }) {
			c.refuse(b.ID, field, "%q is no way to plant; there is %s", p.How, values(PlantingWays[1:]))
		}
	}
	if len(b.Plants) > mostPlantings || len(b.Wants) > mostPlantings || len(b.Grown) > mostGrown {
		c.refuse(b.ID, "plant:add", "a bed takes up to %d plantings, and %d of earlier years", mostPlantings, mostGrown)
	}
	for n, p := range b.Plants {
		one(fmt.Sprintf("plant:%d", n), p)
	}
	shares := 0
	for _, w := range b.Wants {
		known("want:"+w.Crop, w.Crop)
		shares += w.Share
		if (w.N < 1) == (w.Share < 1) || min(w.N, w.Share) < 0 || w.N > mostWanted {
			c.refuse(b.ID, "want:"+w.Crop, "%d is no number of plants: 1 to %d works, or part of the bed", w.N, mostWanted)
		} else if w.Share > 0 && shares > 100 {
			c.refuse(b.ID, "want:"+w.Crop, "with it %d %% of the bed is wanted: up to %d %% works", shares,
				100-shares+w.Share)
		}
	}
	for n, g := range b.Grown {
		field := fmt.Sprintf("grown:%d.got", n)
		one(field, g.Planting)
		if g.Year < 1950 || g.Year > 2100 {
			c.refuse(b.ID, field, "%d is no year: 1950 to 2100 works", g.Year)
		}
		if len(g.Got) > mostGot || g.Got != "" && !Visible(g.Got) || len(g.Note) > MaxNote || g.Note != "" &&
			!Visible(g.Note) {
			c.refuse(b.ID, field, "up to %d letters for what was harvested and %d for a note, on one line, work",
				mostGot, MaxNote)
		}
	}
}
