package design

import (
	"fmt"
	"slices"
	"strconv"
	"strings"
	"time"

	"chamfer/core/catalog"
	"chamfer/core/measure"
)

// Sky is where on the Earth the plot lies, when frosts end and begin there, and what stands round it and throws a
// shadow.
type Sky struct {
	Lat       string         `json:"lat,omitempty"`       // degrees north, "51.5072"; "" for what is usual
	Lon       string         `json:"lon,omitempty"`       // degrees east
	Zone      string         `json:"zone,omitempty"`      // hours that its clocks are ahead of UT, summer time and all
	Variation string         `json:"variation,omitempty"` // degrees that a compass points east of true north
	Last      string         `json:"last,omitempty"`      // the last frost of spring, "05-15"
	First     string         `json:"first,omitempty"`     // the first of autumn, "10-01"
	Fence     measure.Length `json:"fence,omitempty"`     // how high fences are; 0 for what is usual
	Tall      []Tall         `json:"tall,omitempty"`
}

// Tall is something on or beside the plot that throws a shadow.
type Tall struct {
	Kind  string         `json:"kind"` // of TallKinds
	X     Beside         `json:"x"`    // of its left front corner, or of a tree's trunk; may lie off the plot
	Y     Beside         `json:"y"`
	Wide  measure.Length `json:"wide"` // to the right; a tree's crown across
	Deep  measure.Length `json:"deep,omitempty"`
	High  measure.Length `json:"high"`
	Clear measure.Length `json:"clear,omitempty"` // from the ground to a crown
}

// Beside is a length to the right or away; with a minus to the left or nearer, off the plot.
type Beside measure.Length

// MarshalText writes it with its unit.
func (b Beside) MarshalText() ([]byte, error) {
	if b < 0 {
		return []byte("-" + measure.Length(-b).String()), nil
	}
	return []byte(measure.Length(b).String()), nil
}

// UnmarshalText reads it, a bare number as millimetres.
func (b *Beside) UnmarshalText(text []byte) error {
	l, err := besideOf(string(text), measure.Metric)
	*b = l
	return err
}

func besideOf(text string, s measure.System) (Beside, error) {
	rest, minus := strings.CutPrefix(strings.TrimSpace(text), "-")
	l, err := measure.Parse(rest, s)
	if minus {
		l = -l
	}
	return Beside(l), err
}

// TallKinds are what can stand there.
var TallKinds = []Choice{{"house", "a house or its wall", "keeps all light"}, {"shed", "a shed", "keeps all light"},
	{"wall", "a wall or fence", "keeps all light"}, {"hedge", "a hedge", "keeps all light"},
	{"tree", "a tree that drops its leaves", "bare, over half of the light comes through"},
	{"evergreen", "an evergreen tree", "keeps all light all year"}}

// Limits of a sky.
const (
	mostTall   = 40
	offPlot    = 200 * measure.Metre
	tallest    = 100 * measure.Metre
	UsualFence = 1800 * measure.Millimetre
)

// Round reports whether it is a tree.
func (t Tall) Round() bool { return t.Kind == "tree" || t.Kind == "evergreen" }

// SkyOr is the project's sky, with what is usual in the region where nothing was said: 40 degrees north in the United
// States, 51.5 otherwise, and frosts until mid May and from October. Said tells whether the place was.
func (d *Design) SkyOr(cat *catalog.Catalog) (s Sky, said bool) {
	if d.Sky != nil {
		s = *d.Sky
	}
	said = s.Lat != ""
	usual := Sky{Lat: "51.5", Lon: "0", Zone: "1", Last: "05-01", First: "10-15"}
	if cat.System == measure.Imperial {
		usual = Sky{Lat: "40", Lon: "-90", Zone: "-5", Last: "05-15", First: "10-01"}
	}
	if south := strings.HasPrefix(s.Lat, "-"); south {
		usual.Last, usual.First = "10-15", "04-15"
	}
	for _, of := range []struct{ set, to *string }{{&s.Last, &usual.Last}, {&s.First, &usual.First},
		{&s.Lat, &usual.Lat}, {&s.Lon, &usual.Lon}} {
		if *of.set == "" {
			*of.set = *of.to
		}
	}
	if s.Zone == "" { // by the sun: fifteen degrees an hour
		s.Zone = usual.Zone
		if said {
			lon, _ := strconv.ParseFloat(s.Lon, 64)
			s.Zone = strconv.FormatFloat(float64(int(lon/15+100.5)-100), 'f', -1, 64)
		}
	}
	if s.Fence == 0 {
		s.Fence = cat.Told(72*measure.Inch, UsualFence)
	}
	return s, said
}

// Degrees reads one of a sky's numbers, which were checked when they were set.
func Degrees(text string) float64 {
	v, _ := strconv.ParseFloat(text, 64)
	return v
}

// MonthDay reads a day of any year, "05-15".
func MonthDay(text string) (time.Month, int, error) {
	t, err := time.Parse("2006-01-02", "2024-"+text)
	if err != nil {
		return 0, 0, fmt.Errorf("%q is no day of a year: write month and day, like 05-15", text)
	}
	return t.Month(), t.Day(), nil
}

// setSky changes one thing about the sky.
func (d *Design) setSky(key, value string, cat *catalog.Catalog) error {
	s := Sky{}
	if d.Sky != nil {
		s = *d.Sky
		s.Tall = slices.Clone(s.Tall)
	}
	value = strings.TrimSpace(value)
	switch key {
	case "place": // from a browser: "51.5;-0.12;1"
		parts := strings.Split(value, ";")
		if len(parts) != 3 {
			return fmt.Errorf("%q is no place: give latitude, longitude and the clocks' hours", value)
		}
		s.Lat, s.Lon, s.Zone = parts[0], parts[1], parts[2]
	case "lat":
		s.Lat = turned(value, "s")
	case "lon":
		s.Lon = turned(value, "w")
	case "zone":
		s.Zone = strings.TrimPrefix(value, "+")
	case "variation":
		s.Variation = turned(value, "w")
	case "last":
		s.Last = value
	case "first":
		s.First = value
	case "fence":
		l, err := measure.Parse(value, cat.System)
		if err != nil {
			return err
		}
		s.Fence = l
	case "tall":
		t, err := readTall(value, cat)
		if err != nil {
			return err
		}
		s.Tall = append(s.Tall, t)
	default:
		n, err := strconv.Atoi(strings.TrimPrefix(key, "tall."))
		if err != nil || n < 0 || n >= len(s.Tall) {
			return fmt.Errorf("there is no %q to change", key)
		}
		if value == "" {
			s.Tall = slices.Delete(s.Tall, n, n+1)
			break
		}
		if s.Tall[n], err = readTall(value, cat); err != nil {
			return err
		}
	}
	d.Sky = &s
	return nil
}

// turned reads degrees as people write them, "33.87 S": those of the other side of nought have a sign.
func turned(text, other string) string {
	t := strings.ToLower(strings.TrimSpace(strings.ReplaceAll(text, "°", "")))
	t = strings.ReplaceAll(t, ",", ".")
	if rest, ok := strings.CutSuffix(t, other); ok {
		return "-" + strings.TrimSpace(strings.TrimPrefix(rest, "-"))
	}
	return strings.TrimPrefix(strings.TrimSpace(strings.TrimRight(t, "ne")), "+")
}

// readTall reads "kind; right; out; wide; deep; high; clear", lengths with their units.
func readTall(text string, cat *catalog.Catalog) (t Tall, err error) {
	parts := strings.Split(text, ";")
	if len(parts) != 7 {
		return t, fmt.Errorf("%q is nothing that stands there: give what it is, where, how wide, deep and high", text)
	}
	t.Kind = strings.TrimSpace(parts[0])
	for i, to := range []*Beside{&t.X, &t.Y} {
		if part := strings.TrimSpace(parts[i+1]); part != "" {
			if *to, err = besideOf(part, cat.System); err != nil {
				return t, err
			}
		}
	}
	for i, to := range []*measure.Length{&t.Wide, &t.Deep, &t.High, &t.Clear} {
		if part := strings.TrimSpace(parts[i+3]); part != "" {
			if *to, err = measure.Parse(part, cat.System); err != nil {
				return t, err
			}
		}
	}
	return t, nil
}

// sky refuses what no place on the Earth is.
func (c *checker) sky(d Design) {
	if d.Sky == nil {
		return
	}
	s := *d.Sky
	for _, of := range []struct {
		key, text, name string
		most            float64
	}{{"lat", s.Lat, "latitude", 90}, {"lon", s.Lon, "longitude", 180}, {"zone", s.Zone, "difference of clocks", 14},
		{"variation", s.Variation, "compass's variation", 180}} {
		if of.text == "" {
			continue
		}
		if v, err := strconv.ParseFloat(of.text, 64); err != nil || !(v >= -of.most && v <= of.most) || len(of.text) > 12 {
			c.refuse("", "sky:"+of.key, "%q is no %s: from -%v to %v works, such as %v", of.text, of.name, of.most, of.most,
				of.most/4)
		}
	}
	for _, of := range []struct{ key, text string }{{"last", s.Last}, {"first", s.First}} {
		if of.text == "" {
			continue
		}
		if _, _, err := MonthDay(of.text); err != nil {
			c.refuse("", "sky:"+of.key, "%v", err)
		}
	}
	if s.Fence < 0 || s.Fence > 10*measure.Metre {
		c.refuse("", "sky:fence", "%s is no fence's height: up to %s works", c.p.Feet(s.Fence), c.p.AtMost(10*measure.Metre))
	}
	if len(s.Tall) > mostTall {
		c.refuse("", "sky:tall", "up to %d things stand round a plot here", mostTall)
	}
	for _, t := range s.Tall {
		if !slices.ContainsFunc(TallKinds, func(k Choice) bool { return k.Value == t.Kind }) {
			c.refuse("", "sky:tall", "%q is nothing that stands there; there is %s", t.Kind, values(TallKinds))
		}
		if max(measure.Length(max(t.X, -t.X, t.Y, -t.Y)), t.Wide, t.Deep) > offPlot || t.High > tallest || t.Clear < 0 {
			c.refuse("", "sky:tall", "it is too far off or too high: up to %s off and %s high work",
				c.p.AtMost(offPlot), c.p.AtMost(tallest))
		}
		if t.Wide <= 0 || t.High <= 0 || !t.Round() && t.Deep <= 0 || t.Clear >= t.High {
			c.refuse("", "sky:tall", "it needs to be wide, deep and high, and its crown below its top")
		}
	}
}
