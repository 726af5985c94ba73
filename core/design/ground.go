package design

import (
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"slices"
	"strconv"
	"strings"
	"unicode/utf8"

	"chamfer/core/catalog"
	"chamfer/core/measure"
	"chamfer/core/terrain"
)

// Ground is what was read of the ground, what it is, and what becomes of what is dug.
type Ground struct {
	Readings []terrain.Reading `json:"readings,omitempty"`
	Earth    string            `json:"earth,omitempty"`  // "sand", "loam", "clay"; "" is loam
	Spoil    string            `json:"spoil,omitempty"`  // "away" or "bed"; "" is away
	Turf     string            `json:"turf,omitempty"`   // "away" or "under"; "" is away
	Paths    string            `json:"paths,omitempty"`  // "grass" or "chips"; "" is grass
	Even     string            `json:"even,omitempty"`   // "lies" or "even", the paths across; "" is lies
	Edging   string            `json:"edging,omitempty"` // "none" or "strip"; "" is none
}

// Decisions about the ground, with their alternatives; the first is what is meant where none is
// said.
var (
	Earths = []Choice{
		{"loam", "loam, common earth", "crumbles when it is damp"},
		{"sand", "sand or light soil", "runs through the fingers"},
		{"clay", "clay", "rolls into a string; swells most when it is dug"}}
	Spoils = []Choice{
		{"away", "is carried off", "all that is bought is clean"},
		{"bed", "goes into the beds", "good topsoil is what others buy"}}
	PathsOf = []Choice{
		{"grass", "stay as they are", "mown, or trodden"},
		{"chips", "wood chips over cloth", "3 in (75 mm) deep, topped up every other year"}}
	Evens = []Choice{
		{"lies", "fall as the ground does", "nothing is dug for them"},
		{"even", "are made even across", "each keeps its fall along; what is dug fills its low side"}}
	Edgings = []Choice{
		{"none", "runs out into the grass", "mown over; grass grows in"},
		{"strip", "an edging strip keeps the grass out", "where no fence stands round the plot"}}
	Turfs = []Choice{
		{"away", "is stacked or carried off", "a stack of it is good soil in a year"},
		{"under", "lies upside down under the soil", "rots where it lies, and sinks by half of it"}}
)

// grounds are the decisions there are, by key.
var grounds = []string{"earth", "spoil", "turf", "paths", "edging", "even"}

// decided is one of them, with its alternatives.
func (g *Ground) decided(key string) (at *string, of []Choice) {
	switch key {
	case "earth":
		return &g.Earth, Earths
	case "spoil":
		return &g.Spoil, Spoils
	case "turf":
		return &g.Turf, Turfs
	case "paths":
		return &g.Paths, PathsOf
	case "even":
		return &g.Even, Evens
	case "edging":
		return &g.Edging, Edgings
	}
	return nil, nil
}

// GroundOr is what is known and decided of the ground, with what is meant where none is said.
func (d *Design) GroundOr() Ground {
	var g Ground
	if d.Ground != nil {
		g = *d.Ground
	}
	for _, key := range grounds {
		if at, of := g.decided(key); *at == "" {
			*at = of[0].Value
		}
	}
	return g
}

// setGround changes one thing about the ground: its readings, as a file has them, or a decision.
func (d *Design) setGround(key, value string, cat *catalog.Catalog) error {
	var g Ground
	if d.Ground != nil {
		g = *d.Ground
	}
	if key == "readings" {
		list, err := ReadReadings(strings.NewReader(value), cat.System)
		if err != nil {
			return err
		}
		g.Readings = list
	} else if at, _ := g.decided(key); at != nil {
		*at = strings.TrimSpace(value)
	} else {
		return fmt.Errorf("the ground has no %q", key)
	}
	d.Ground = &g
	return nil
}

// Limits of what is read of a plot.
const (
	MostReadings = 1000
	mostPegName  = 30
	farthestUp   = 30 * measure.Metre
)

// ground refuses readings that cannot have been read, and what is not on offer.
func (c *checker) ground(d Design) {
	if d.Ground == nil {
		return
	}
	g := *d.Ground
	for _, key := range grounds {
		at, of := g.decided(key)
		if *at != "" && !slices.ContainsFunc(of, func(ch Choice) bool { return ch.Value == *at }) {
			c.refuse("", "ground:"+key, "%q is not on offer; there is %s", *at, values(of))
		}
	}
	if err := CheckReadings(g.Readings); err != nil {
		c.refuse("", "ground:readings", "%v", err)
	}
}

func values(list []Choice) string {
	var words []string
	for _, ch := range list {
		words = append(words, ch.Value)
	}
	return strings.Join(words, ", ")
}

// CheckReadings refuses readings that cannot be: out of all bounds, of one place under two
// names, or booked in no order.
func CheckReadings(list []terrain.Reading) error {
	if len(list) > MostReadings {
		return fmt.Errorf("%d readings are more than a garden has; up to %d work", len(list), MostReadings)
	}
	at := map[[2]measure.Length]string{}
	places := map[string][2]measure.Length{}
	for i, r := range list {
		fault := func(format string, args ...any) error {
			return &terrain.Fault{Line: i + 1, Peg: r.Peg, Reason: fmt.Sprintf(format, args...)}
		}
		if strings.TrimSpace(r.Peg) != r.Peg || utf8.RuneCountInString(r.Peg) > mostPegName || !Visible(r.Peg) {
			return fault("a peg has a name of up to %d letters", mostPegName)
		}
		if (r.Right == nil) != (r.Out == nil) {
			return fault("a place is so far from the left and so far from the front: give both or neither")
		}
		for _, l := range []*measure.Length{r.Right, r.Out, r.Back, r.Between, r.Fore, r.There, r.Here} {
			if l != nil && (*l < 0 || *l > largestPlot) {
				return fault("%v is out of all bounds", *l)
			}
		}
		if r.Height != nil && max(*r.Height, -*r.Height) > measure.Level(farthestUp) {
			return fault("%v is no height in a garden: count from a peg nearby", *r.Height)
		}
		if r.Right == nil {
			continue
		}
		here := [2]measure.Length{*r.Right, *r.Out}
		if was, there := places[r.Peg]; there && was != here {
			return fault("it stood elsewhere in a line before")
		}
		if other, there := at[here]; there && other != r.Peg {
			return fault("it stands where peg %q does", other)
		}
		at[here], places[r.Peg] = r.Peg, here
	}
	_, err := terrain.Reduce(list)
	return err
}

// columns are those of a file of readings.
var columns = []struct {
	name  string
	field func(*terrain.Reading) **measure.Length
}{
	{"peg", nil},
	{"right", func(r *terrain.Reading) **measure.Length { return &r.Right }},
	{"out", func(r *terrain.Reading) **measure.Length { return &r.Out }},
	{"height", nil},
	{"back", func(r *terrain.Reading) **measure.Length { return &r.Back }},
	{"between", func(r *terrain.Reading) **measure.Length { return &r.Between }},
	{"fore", func(r *terrain.Reading) **measure.Length { return &r.Fore }},
	{"from", nil},
	{"there", func(r *terrain.Reading) **measure.Length { return &r.There }},
	{"here", func(r *terrain.Reading) **measure.Length { return &r.Here }},
}

// ReadingColumns are the names of the columns of a file of readings, in their order.
func ReadingColumns() (list []string) {
	for _, c := range columns {
		list = append(list, c.name)
	}
	return list
}

// ReadReadings reads a file of readings: comma-separated, its first line the names of its
// columns in any order. A column's name may be followed by the unit of its bare numbers,
// "height (m)"; otherwise a bare number is as the system has it. Faults tell line and column.
func ReadReadings(in io.Reader, system measure.System) ([]terrain.Reading, error) {
	r := csv.NewReader(in)
	r.FieldsPerRecord, r.TrimLeadingSpace = -1, true
	head, err := r.Read()
	if errors.Is(err, io.EOF) {
		return nil, nil
	}
	if err != nil {
		return nil, plainCSV(err)
	}
	type column struct{ at, unit string }
	var cols []column
	for i, h := range head {
		if i == 0 {
			h = strings.TrimPrefix(h, "\ufeff")
		}
		name, unit, _ := strings.Cut(strings.ToLower(strings.TrimSpace(h)), "(")
		c := column{strings.TrimSpace(name), strings.TrimSpace(strings.TrimSuffix(strings.TrimSpace(unit), ")"))}
		if !slices.Contains(ReadingColumns(), c.at) {
			return nil, fmt.Errorf("line 1, column %d: %q is no column; there is %s", i+1, strings.TrimSpace(h),
				strings.Join(ReadingColumns(), ", "))
		}
		if slices.ContainsFunc(cols, func(o column) bool { return o.at == c.at }) {
			return nil, fmt.Errorf("line 1, column %d: %q stands there twice", i+1, c.at)
		}
		if _, err := measure.Parse("1 "+c.unit, measure.Metric); c.unit != "" && err != nil {
			return nil, fmt.Errorf("line 1, column %d: %q is no unit; mm, cm, m, in and ft are", i+1, c.unit)
		}
		cols = append(cols, c)
	}
	var list []terrain.Reading
	for {
		row, err := r.Read()
		if errors.Is(err, io.EOF) {
			return list, nil
		}
		if err != nil {
			return nil, plainCSV(err)
		}
		line, _ := r.FieldPos(0)
		if len(list) == MostReadings {
			return nil, fmt.Errorf("line %d: more than %d readings", line, MostReadings)
		}
		var x terrain.Reading
		empty := true
		for i, text := range row {
			text = strings.TrimSpace(text)
			if text == "" {
				continue
			}
			if i >= len(cols) {
				return nil, fmt.Errorf("line %d, column %d: there are only %d columns", line, i+1, len(cols))
			}
			empty = false
			if err := setReading(&x, cols[i].at, cols[i].unit, text, system); err != nil {
				return nil, fmt.Errorf("line %d, column %d (%s): %w", line, i+1, cols[i].at, err)
			}
		}
		if !empty {
			list = append(list, x)
		}
	}
}

// plainCSV says where a file goes wrong.
func plainCSV(err error) error {
	if p := (*csv.ParseError)(nil); errors.As(err, &p) {
		return fmt.Errorf("line %d, column %d: %w", p.Line, p.Column, p.Err)
	}
	return err
}

func setReading(x *terrain.Reading, column, unit, text string, system measure.System) error {
	if _, err := strconv.ParseFloat(strings.Replace(text, ",", ".", 1), 64); err == nil && unit != "" {
		text += " " + unit
	}
	switch column {
	case "peg":
		x.Peg = text
	case "from":
		x.From = text
	case "height":
		l, err := measure.ParseLevel(text, system)
		x.Height = &l
		return err
	}
	for _, c := range columns {
		if c.name == column && c.field != nil {
			l, err := measure.Parse(text, system)
			*c.field(x) = &l
			return err
		}
	}
	return nil
}

// WriteReadings writes readings so that [ReadReadings] reads just them.
func WriteReadings(out io.Writer, list []terrain.Reading, system measure.System) error {
	w := csv.NewWriter(out)
	if err := w.Write(ReadingColumns()); err != nil {
		return err
	}
	for _, r := range list {
		if err := w.Write(ReadingRow(r, exact(system))); err != nil {
			return err
		}
	}
	w.Flush()
	return w.Error()
}

// exact writes lengths so that they are read as they are.
func exact(system measure.System) func(measure.Length) string {
	return func(l measure.Length) string {
		if system == measure.Metric && l%measure.Micrometre == 0 {
			return l.In(measure.Metric)
		}
		return l.String()
	}
}

// ReadingRow is a reading as a file's line has it, its lengths as they are said.
func ReadingRow(r terrain.Reading, say func(measure.Length) string) []string {
	var row []string
	for _, c := range columns {
		switch {
		case c.name == "peg":
			row = append(row, r.Peg)
		case c.name == "from":
			row = append(row, r.From)
		case c.name == "height" && r.Height != nil:
			row = append(row, say(measure.Length(*r.Height)))
		case c.field != nil && *c.field(&r) != nil:
			row = append(row, say(**c.field(&r)))
		default:
			row = append(row, "")
		}
	}
	return row
}

// LevelWays are the ways to say how high a bed stands on ground that was measured, the first
// where none is said; a height may be said instead.
var LevelWays = []Choice{
	{"lowest", "at its lowest corner", "all of it on firm ground; the high side is dug"},
	{"balanced", "where cut equals fill", "least to carry; what is filled settles"},
	{"highest", "at its highest corner", "nothing is dug; the low side is filled, or shows more wall"},
	{"follow", "with the fall of the ground", "least work of all; water runs to the low end"},
}

// setLevel says how high the n-th of a bed stands: one of [LevelWays], or a height.
func (b *Bed) setLevel(n, value string, cat *catalog.Catalog) error {
	i, err := strconv.Atoi(n)
	if err != nil || i < 0 || i >= b.Times() || i >= mostPlaces {
		return fmt.Errorf("there is no bed %q to level", n)
	}
	value = strings.TrimSpace(value)
	if !slices.ContainsFunc(LevelWays, func(c Choice) bool { return c.Value == value }) && value != "" {
		l, err := measure.ParseLevel(value, cat.System)
		if err != nil {
			return err
		}
		value = l.String()
	}
	for len(b.Places) <= i {
		b.Places = append(b.Places, Place{Free: true})
	}
	b.Places[i].Level = value
	return nil
}

// LevelOf is how high the n-th of a bed stands: one of [LevelWays], or a height.
func (b Bed) LevelOf(n int) (way string, at measure.Level, typed bool) {
	if n >= len(b.Places) || b.Places[n].Level == "" {
		return LevelWays[0].Value, 0, false
	}
	way = b.Places[n].Level
	if slices.ContainsFunc(LevelWays, func(c Choice) bool { return c.Value == way }) {
		return way, 0, false
	}
	at, err := measure.ParseLevel(way, measure.Metric)
	return way, at, err == nil
}

// level refuses heights that are none.
func (c *checker) level(b Bed, i int, p Place) {
	if way, at, typed := b.LevelOf(i); p.Level != "" && !typed &&
		!slices.ContainsFunc(LevelWays, func(ch Choice) bool { return ch.Value == way }) ||
		max(at, -at) > measure.Level(farthestUp) {
		c.refuse(b.ID, fmt.Sprintf("level:%d", i), "%q is no height: give one from a peg nearby, or %s", p.Level,
			values(LevelWays))
	}
}
