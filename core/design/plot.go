package design

import (
	"fmt"
	"slices"
	"strconv"
	"strings"

	"chamfer/core/catalog"
	"chamfer/core/measure"
)

// Plot is the ground the beds stand on, seen from above: its left front corner
// is the origin, x to the right, y away from the viewer.
type Plot struct {
	Width   measure.Length `json:"width"`
	Depth   measure.Length `json:"depth"`
	North   int            `json:"north"`   // degrees to the right of straight up
	Passage string         `json:"passage"` // who goes between the beds
	Fences  []string       `json:"fences,omitempty"`
}

// Place is where one bed stands: its nearest left corner, and whether it is
// turned by a quarter.
type Place struct {
	X      measure.Length `json:"x"`
	Y      measure.Length `json:"y"`
	Turned bool           `json:"turned,omitempty"`
	Free   bool           `json:"free,omitempty"`  // wherever there is room
	Level  string         `json:"level,omitempty"` // how high on the ground: see LevelWays
}

// Edges of a plot that may be fenced.
var Edges = []string{"front", "right", "back", "left"}

// Limits of a plot.
const (
	smallestPlot = measure.Metre
	largestPlot  = 100 * measure.Metre
	mostPlaces   = 100
)

// PlotOr is the project's plot, or one of the region's usual size.
func (d *Design) PlotOr(cat *catalog.Catalog) Plot {
	if d.Plot != nil {
		return *d.Plot
	}
	if cat.System == measure.Metric {
		return Plot{Width: 8 * measure.Metre, Depth: 6 * measure.Metre, Passage: "foot"}
	}
	return Plot{Width: 24 * measure.Foot, Depth: 20 * measure.Foot, Passage: "foot"}
}

// setPlot changes one thing about the plot.
func (d *Design) setPlot(key, value string, cat *catalog.Catalog) error {
	p := d.PlotOr(cat)
	value = strings.TrimSpace(value)
	switch key {
	case "width", "depth":
		l, err := measure.Parse(value, cat.System)
		if err != nil {
			return err
		}
		if key == "width" {
			p.Width = l
		} else {
			p.Depth = l
		}
	case "north":
		n, err := strconv.Atoi(strings.TrimSuffix(value, "°"))
		if err != nil {
			return fmt.Errorf("%q is no direction: give degrees from 0 to 359, clockwise from straight up", value)
		}
		p.North = n
	case "passage":
		p.Passage = value
	case "fences":
		p.Fences = nil
		for _, e := range strings.FieldsFunc(value, func(r rune) bool { return r == ',' || r == ' ' }) {
			if !slices.Contains(p.Fences, e) {
				p.Fences = append(p.Fences, e)
			}
		}
	default:
		return fmt.Errorf("a plot has no %q", key)
	}
	d.Plot = &p
	return nil
}

// place sets where the n-th of a bed stands: "free", "turn", or "x;y" with exact
// lengths, and "x;y;turned".
func (b *Bed) place(n, value string, cat *catalog.Catalog) error {
	i, err := strconv.Atoi(n)
	if err != nil || i < 0 || i >= b.Times() || i >= mostPlaces {
		return fmt.Errorf("there is no bed %q to place", n)
	}
	for len(b.Places) <= i {
		b.Places = append(b.Places, Place{Free: true})
	}
	p := &b.Places[i]
	parts := strings.Split(value, ";")
	switch {
	case value == "free":
		*p = Place{Free: true, Level: p.Level}
	case value == "turn":
		p.Turned = !p.Turned
	case len(parts) == 2 || len(parts) == 3:
		x, err := measure.Parse(strings.TrimSpace(parts[0]), cat.System)
		if err != nil {
			return err
		}
		y, err := measure.Parse(strings.TrimSpace(parts[1]), cat.System)
		if err != nil {
			return err
		}
		*p = Place{X: x, Y: y, Turned: p.Turned, Level: p.Level}
		if len(parts) == 3 {
			p.Turned = parts[2] == "turned"
		}
	default:
		return fmt.Errorf("%q is no place: give how far from the left and from the front", value)
	}
	return nil
}

// plot refuses a plot that makes no sense.
func (c *checker) plot(d Design) {
	if d.Plot == nil {
		return
	}
	p := *d.Plot
	for _, side := range []struct {
		key string
		l   measure.Length
	}{{"width", p.Width}, {"depth", p.Depth}} {
		if key, l := side.key, side.l; l < smallestPlot || l > largestPlot {
			c.refuse(
				"",
				"plot:"+key,
				"%s is no plot's %s: from %s to %s works",
				c.p.Feet(l),
				key,
				c.p.AtLeast(smallestPlot),
				c.p.AtMost(largestPlot),
			)
		}
	}
	if p.North < 0 || p.North > 359 {
		c.refuse("", "plot:north", "%d is no direction: 0 to 359 degrees, clockwise from straight up", p.North)
	}
	if _, ok := c.cat.Passages[p.Passage]; !ok {
		c.refuse("", "plot:passage", "%q is not known; there is foot, barrow, mower and wheelchair", p.Passage)
	}
	for _, e := range p.Fences {
		if !slices.Contains(Edges, e) {
			c.refuse("", "plot:fences", "%q is no edge of the plot; there is %s", e, strings.Join(Edges, ", "))
		}
	}
	if len(p.Fences) > len(Edges) {
		c.refuse("", "plot:fences", "a plot has four edges")
	}
}

// places refuses places outside of anything.
func (c *checker) places(b Bed) {
	if len(b.Places) > mostPlaces {
		c.refuse(b.ID, "places", "%d places are too many; up to %d work", len(b.Places), mostPlaces)
	}
	for i, p := range b.Places {
		c.level(b, i, p)
		if p.X < 0 || p.Y < 0 || p.X > largestPlot || p.Y > largestPlot {
			c.refuse(
				b.ID,
				fmt.Sprintf("place:%d", i),
				"%s from the left and %s from the front is off the plot",
				c.p.Feet(p.X),
				c.p.Feet(p.Y),
			)
		}
	}
}
