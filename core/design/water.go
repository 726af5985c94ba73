package design

import (
	"fmt"
	"regexp"
	"strconv"
	"strings"

	"chamfer/core/catalog"
	"chamfer/core/measure"
)

// Watering is how a bed is watered.
type Watering string

// The ways there are.
const (
	ByCan  Watering = "can"
	ByHose Watering = "hose"
	ByDrip Watering = "drip"

	BySprinkler Watering = "sprinkler"
)

// Water is where water comes from, how much, and when.
type Water struct {
	Weather  string         `json:"weather"` // "cool", "mild", "warm" or "hot"
	Flow     string         `json:"flow"`    // of the tap into a bucket: "10 l in 25 s"
	Head     measure.Length `json:"head"`    // of a butt above the beds; 0 is the house's pressure
	Days     int            `json:"days"`    // a week
	TapRight measure.Length `json:"tap_right"`
	TapOut   measure.Length `json:"tap_out"`
}

// WaterWeathers are what a dry week at midsummer is like.
var WaterWeathers = []Choice{
	{"cool", "cool, or by the sea", "0.12 in (3 mm) a day off grass"}, {"mild", "mild", "0.16 in (4 mm) a day"},
	{"warm", "warm", "0.2 in (5 mm) a day"}, {"hot", "hot and dry", "0.28 in (7 mm) a day"}}

// WaterOr is how the project is watered, or what is usual.
func (d *Design) WaterOr(cat *catalog.Catalog) Water {
	if d.Water != nil {
		return *d.Water
	}
	w := Water{Weather: "warm", Flow: "10 l in 40 s", Days: 3}
	if cat.System == measure.Imperial {
		w.Flow = "5 gal in 75 s"
	}
	return w
}

var flowing = regexp.MustCompile(
	`^\s*([0-9.,]+)\s*(l|litres?|liters?|gal|gallons?)\s*(?:in)?\s*([0-9.,]+)\s*(s|sec|seconds?|min|minutes?)\s*$`)

// ReadFlow reads what ran into a bucket, "10 l in 25 s" or "5 gal in 38 s", as litres a minute.
func ReadFlow(text string) (float64, error) {
	m := flowing.FindStringSubmatch(strings.ToLower(text))
	fault := fmt.Errorf("%q is no flow: write what ran into a bucket, like 10 l in 25 s or 5 gal in 38 s", text)
	if m == nil {
		return 0, fault
	}
	v, err := measure.ParseNumber(m[1])
	t, err2 := measure.ParseNumber(m[3])
	if err != nil || err2 != nil || v <= 0 || t <= 0 {
		return 0, fault
	}
	if strings.HasPrefix(m[2], "g") {
		v *= 3.785411784
	}
	if strings.HasPrefix(m[4], "m") {
		t *= 60
	}
	if flow := v * 60 / t; flow >= 0.2 && flow <= 200 {
		return flow, nil
	}
	return 0, fmt.Errorf("%q is a flow between no tap's: 0.2 to 200 litres a minute work", text)
}

// setWater changes one thing about the water.
func (d *Design) setWater(key, value string, cat *catalog.Catalog) error {
	w := d.WaterOr(cat)
	value = strings.TrimSpace(value)
	var err error
	switch key {
	case "weather":
		w.Weather = value
	case "flow":
		if _, err = ReadFlow(value); err == nil {
			w.Flow = value
		}
	case "head":
		w.Head, err = measure.Parse(value, cat.System)
	case "days":
		if w.Days, err = strconv.Atoi(value); err != nil {
			err = fmt.Errorf("%q is no number of days: 1 to 7 a week", value)
		}
	case "tap":
		err = w.moveTap(value, cat)
	default:
		return fmt.Errorf("the water has no %q", key)
	}
	if err != nil {
		return err
	}
	d.Water = &w
	return nil
}

// moveTap puts the tap so far from the left and the front, "3 ft;0", or moves it by millimetres,
// "by 120;-30"; it stays on the plot's side of both.
func (w *Water) moveTap(value string, cat *catalog.Catalog) error {
	by, moved := strings.CutPrefix(value, "by ")
	a, b, ok := strings.Cut(by, ";")
	if !ok {
		return fmt.Errorf("%q is no place: give how far from the left and from the front", value)
	}
	if !moved {
		right, err := measure.Parse(strings.TrimSpace(a), cat.System)
		if err != nil {
			return err
		}
		out, err := measure.Parse(strings.TrimSpace(b), cat.System)
		w.TapRight, w.TapOut = right, out
		return err
	}
	dx, err := strconv.ParseFloat(a, 64)
	dy, err2 := strconv.ParseFloat(b, 64)
	if err != nil || err2 != nil || !(dx*dx+dy*dy < farthest*farthest) {
		return fmt.Errorf("%q is no distance: drag it again, or type where the tap is", value)
	}
	step := cat.Told(measure.Inch, 10*measure.Millimetre)
	to := func(l measure.Length, mm float64) measure.Length {
		return max(0, (l+measure.Length(mm*float64(measure.Millimetre))+step/2)/step*step)
	}
	w.TapRight, w.TapOut = to(w.TapRight, dx), to(w.TapOut, dy)
	return nil
}

// water refuses what no tap gives.
func (c *checker) water(d Design) {
	if d.Water == nil {
		return
	}
	w := *d.Water
	if values(WaterWeathers) == "" || !strings.Contains(", "+values(WaterWeathers)+",", ", "+w.Weather+",") {
		c.refuse("", "water:weather", "%q is not on offer; there is %s", w.Weather, values(WaterWeathers))
	}
	if _, err := ReadFlow(w.Flow); err != nil {
		c.refuse("", "water:flow", "%v", err)
	}
	if w.Days < 1 || w.Days > 7 {
		c.refuse("", "water:days", "%d days are not in a week: 1 to 7 work", w.Days)
	}
	if w.Head < 0 || w.Head > 20*measure.Metre {
		c.refuse("", "water:head", "%s is no butt's height: up to %s, and 0 for the house's tap", c.p.Feet(w.Head),
			c.p.Feet(20*measure.Metre))
	}
	if w.TapRight < 0 || w.TapOut < 0 || w.TapRight > largestPlot || w.TapOut > largestPlot {
		c.refuse("", "water:tap", "the tap is off the plot")
	}
}
