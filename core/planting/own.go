package planting

import (
	"cmp"
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"maps"
	"math"
	"slices"
	"strconv"
	"strings"
	"unicode"

	"chamfer/core/measure"
)

// Table is the crops of a project by name: those that are known, and its own in their place or beside them.
type Table []Crop

// TableOf is the table of a project that wrote down crops of its own, by their IDs, as [Crop.Text] writes them; those
// that cannot be read are left out.
func TableOf(s measure.System, own map[string]string) Table {
	if len(own) == 0 {
		return Crops(s)
	}
	t := slices.Clone(Crops(s))
	for _, id := range slices.Sorted(maps.Keys(own)) {
		c, err := ReadCrop(Crop{ID: id}, own[id], measure.Metric)
		if err != nil {
			continue
		}
		if i := slices.IndexFunc(t, func(k Crop) bool { return k.ID == id }); i >= 0 {
			t[i] = c
		} else {
			t = append(t, c)
		}
	}
	slices.SortStableFunc(t, func(a, b Crop) int { return strings.Compare(a.Name, b.Name) })
	return t
}

// Named is a crop by its ID.
func (t Table) Named(id string) (Crop, bool) {
	for i := range t {
		if t[i].ID == id {
			return t[i], true
		}
	}
	return Crop{}, false
}

// property is one thing that is told of a crop, as it is written in a text.
type property struct {
	key string
	get func(c *Crop) string
	set func(c *Crop, text string, s measure.System) error
}

// Limits of what is told of a crop; wider than anything that grows in a bed.
const (
	leastApart = 10 * measure.Millimetre
	mostApart  = 6 * measure.Metre
	mostHigh   = 20 * measure.Metre
	mostDeep   = 3 * measure.Metre
	mostWords  = 160
)

func wordsOf(key string, at func(c *Crop) *string, of ...string) property {
	return property{key, func(c *Crop) string { return *at(c) }, func(c *Crop, text string, _ measure.System) error {
		if len(of) > 0 && !slices.Contains(of, text) {
			return fmt.Errorf("%q is not one of %s", text, strings.Join(of, ", "))
		}
		if len([]rune(text)) > mostWords || strings.ContainsFunc(text, unicode.IsControl) {
			return fmt.Errorf("up to %d letters on one line work", mostWords)
		}
		*at(c) = text
		return nil
	}}
}

func lengthOf(key string, at func(c *Crop) *measure.Length, least, most measure.Length) property {
	return property{key, func(c *Crop) string { return at(c).String() },
		func(c *Crop, text string, s measure.System) error {
			l, err := measure.Parse(text, s)
			if err != nil {
				return err
			}
			if l < least || l > most {
				return fmt.Errorf("%s to %s works", least.In(s), most.In(s))
			}
			*at(c) = l
			return nil
		}}
}

func spanOf(key string, at func(c *Crop) *Span, most int) property {
	return property{key, func(c *Crop) string { return fmt.Sprintf("%d to %d", at(c).Min, at(c).Max) },
		func(c *Crop, text string, _ measure.System) error {
			from, to, err := fromTo(text, 0, most)
			if err == nil && from > to {
				err = errors.New("write the fewer first")
			}
			*at(c) = Span{from, to}
			return err
		}}
}

func weeksOf(key string, at func(c *Crop) **Weeks) property {
	return property{key, func(c *Crop) string {
		if w := *at(c); w != nil {
			return fmt.Sprintf("%d to %d", w.From, w.To)
		}
		return ""
	}, func(c *Crop, text string, _ measure.System) error {
		if *at(c) = nil; text == "" {
			return nil
		}
		from, to, err := fromTo(text, -60, 60)
		*at(c) = &Weeks{from, to}
		return err
	}}
}

// fromTo reads "60 to 75", or one number for both.
func fromTo(text string, least, most int) (from, to int, err error) {
	a, b, both := strings.Cut(text, " to ")
	if !both {
		b = a
	}
	from, err1 := strconv.Atoi(strings.TrimSpace(a))
	to, err2 := strconv.Atoi(strings.TrimSpace(b))
	if err1 != nil || err2 != nil || min(from, to) < least || max(from, to) > most {
		return 0, 0, fmt.Errorf("%q is no stretch; %d to %d works, written like 4 to 8", text, least, most)
	}
	return from, to, nil
}

// choiceOf is one of two words for a thing that is so or is not.
func choiceOf(key, yes, no string, at func(c *Crop) *bool) property {
	return property{key, func(c *Crop) string {
		if *at(c) {
			return yes
		}
		return no
	}, func(c *Crop, text string, _ measure.System) error {
		if text != yes && text != no {
			return fmt.Errorf("%q is neither %s nor %s", text, yes, no)
		}
		*at(c) = text == yes
		return nil
	}}
}

// properties are all that is told of a crop, in the order they are written.
var properties = []property{
	wordsOf("name", func(c *Crop) *string { return &c.Name }),
	wordsOf("latin", func(c *Crop) *string { return &c.Latin }),
	wordsOf("family", func(c *Crop) *string { return &c.Family }),
	wordsOf("kind", func(c *Crop) *string { return &c.Kind }, "veg", "herb", "flower", "fruit"),
	choiceOf("life", "perennial", "annual", func(c *Crop) *bool { return &c.Perennial }),
	lengthOf("each", func(c *Crop) *measure.Length { return &c.Each }, leastApart, mostApart),
	lengthOf("in row", func(c *Crop) *measure.Length { return &c.InRow }, leastApart, mostApart),
	lengthOf("rows", func(c *Crop) *measure.Length { return &c.Rows }, leastApart, mostApart),
	lengthOf("soil", func(c *Crop) *measure.Length { return &c.Deep }, 0, mostDeep),
	lengthOf("high", func(c *Crop) *measure.Length { return &c.High }, 0, mostHigh),
	lengthOf("spread", func(c *Crop) *measure.Length { return &c.Spread }, 0, mostApart),
	wordsOf("roots", func(c *Crop) *string { return &c.Roots }, "shallow", "medium", "deep"),
	wordsOf("sun", func(c *Crop) *string { return &c.Sun }, "full", "part_ok", "shade_ok"),
	{"hours", func(c *Crop) string { return strconv.Itoa(c.SunHours) },
		func(c *Crop, text string, _ measure.System) error {
			n, err := strconv.Atoi(text)
			if err != nil || n < 0 || n > 16 {
				return fmt.Errorf("%q is no number of hours of sun a day; 0 to 16 works", text)
			}
			c.SunHours = n
			return nil
		}},
	wordsOf("support", func(c *Crop) *string { return &c.Support }),
	lengthOf("sown deep", func(c *Crop) *measure.Length { return &c.SowDeep }, 0, 300*measure.Millimetre),
	weeksOf("sown inside", func(c *Crop) **Weeks { return &c.Indoor }),
	weeksOf("set out", func(c *Crop) **Weeks { return &c.Out }),
	weeksOf("sown", func(c *Crop) **Weeks { return &c.Direct }),
	weeksOf("autumn", func(c *Crop) **Weeks { return &c.Autumn }),
	spanOf("days", func(c *Crop) *Span { return &c.Days }, 4000),
	choiceOf("counted from", "sowing", "setting out", func(c *Crop) *bool { return &c.FromSowing }),
	spanOf("picked", func(c *Crop) *Span { return &c.Picked }, 60),
	wordsOf("feeding", func(c *Crop) *string { return &c.Feeding }, "", "light", "medium", "heavy"),
	wordsOf("water", func(c *Crop) *string { return &c.Water }, "", "low", "medium", "high"),
	spanOf("again", func(c *Crop) *Span { return &c.Again }, 365),
	wordsOf("hardy", func(c *Crop) *string { return &c.Hardy }),
	wordsOf("note", func(c *Crop) *string { return &c.Note }),
	wordsOf("source", func(c *Crop) *string { return &c.Source }),
}

// Text writes all that is told of a crop but its ID, "name=Lane bean; family=Fabaceae; …": what [ReadCrop] reads.
func (c Crop) Text() string {
	var parts []string
	for _, p := range properties {
		if t := p.get(&c); t != "" {
			parts = append(parts, p.key+"="+strings.ReplaceAll(t, ";", ","))
		}
	}
	return strings.Join(parts, "; ")
}

// ReadCrop changes a crop by what a text tells of it, lengths without a unit in a system's own; what it says nothing of
// stays.
func ReadCrop(c Crop, text string, s measure.System) (Crop, error) {
	for part := range strings.SplitSeq(text, ";") {
		key, value, ok := strings.Cut(part, "=")
		if key, value = strings.TrimSpace(key), strings.TrimSpace(value); key == "" && !ok {
			continue
		}
		i := slices.IndexFunc(properties, func(p property) bool { return p.key == key })
		if i < 0 {
			return c, fmt.Errorf("%q is nothing that is told of a crop", key)
		}
		if err := properties[i].set(&c, value, s); err != nil {
			return c, fmt.Errorf("%s: %w", key, err)
		}
	}
	return c, c.whole()
}

// whole tells what a crop lacks.
func (c Crop) whole() error {
	switch {
	case c.ID == "" || c.Name == "":
		return errors.New("a crop has an id and a name")
	case c.Each <= 0 || c.InRow <= 0 || c.Rows <= 0:
		return errors.New("a crop needs room: say how far its plants stand apart")
	case c.Source == "":
		return errors.New("where that is from is missing")
	case c.Kind == "":
		return errors.New("it is a veg, a herb, a flower or a fruit: say which")
	}
	return nil
}

// columns are those of a table of crops that are read, sizes twice.
var columns = slices.Concat(
	[]string{"id", "name", "latin", "family", "kind", "life"},
	twice("in_row_min", "row_min", "equidistant_min", "soil_depth_min", "height_max", "spread_max", "sow_depth"),
	strings.Fields("root_class sun sun_min_hours support indoor_from_wk_lsf indoor_to_wk_lsf transplant_from_wk_lsf"+
		" transplant_to_wk_lsf direct_from_wk_lsf direct_to_wk_lsf autumn_earliest_sow_wk_before_faf"+
		" autumn_latest_sow_wk_before_faf maturity_min_days maturity_max_days maturity_counted_from harvest_min_wk"+
		" harvest_max_wk feeding water succession_min_days succession_max_days hardiness note source"))

func twice(names ...string) (list []string) {
	for _, n := range names {
		list = append(list, n+"_in", n+"_mm")
	}
	return list
}

// WriteCrops writes a table of crops that [ReadCrops] reads.
func WriteCrops(w io.Writer, list []Crop) error {
	out := csv.NewWriter(w)
	if err := out.Write(columns); err != nil {
		return err
	}
	for _, c := range list {
		if err := out.Write(c.cells()); err != nil {
			return err
		}
	}
	out.Flush()
	return out.Error()
}

// cells are a crop's, in the order of columns.
func (c Crop) cells() []string {
	life, from := "annual", "transplant"
	if c.Perennial {
		life = "perennial"
	}
	if c.FromSowing {
		from = "sowing"
	}
	row := []string{c.ID, c.Name, c.Latin, c.Family, c.Kind, life}
	for _, l := range []measure.Length{c.InRow, c.Rows, c.Each, c.Deep, c.High, c.Spread, c.SowDeep} {
		row = append(row, strconv.FormatFloat(float64(l)/float64(measure.Inch), 'f', -1, 64),
			strconv.FormatFloat(l.Millimetres(), 'f', -1, 64))
	}
	row = append(row, c.Roots, c.Sun, strconv.Itoa(c.SunHours), cmp.Or(c.Support, "none"))
	for _, w := range []*Weeks{c.Indoor, c.Out, c.Direct, c.Autumn} {
		if w == nil {
			row = append(row, "", "")
		} else {
			row = append(row, strconv.Itoa(w.From), strconv.Itoa(w.To))
		}
	}
	span := func(s Span) { row = append(row, strconv.Itoa(s.Min), strconv.Itoa(s.Max)) }
	span(c.Days)
	row = append(row, from)
	span(c.Picked)
	row = append(row, c.Feeding, c.Water)
	span(c.Again)
	return append(row, c.Hardy, c.Note, c.Source)
}

// sized is so many of a unit, as exact as lengths are.
func sized(v float64, unit measure.Length) measure.Length {
	return measure.Length(math.Round(v * float64(unit)))
}
