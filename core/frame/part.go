package frame

import (
	"math"
	"strconv"

	"chamfer/core/measure"
)

// End is the shape of a piece's end.
type End string

// The shapes an end can have.
const (
	Square  End = "square"
	Mitred  End = "mitred" // 45 degrees, length given to the long point
	Pointed End = "pointed"
)

// Part is a straight piece of timber.
type Part struct {
	ID        string
	Letter    string // shop letter, shared by pieces that are alike
	Role      string // what it is, for reading: "front side, course 2"
	Kind      PartKind
	Bed       string
	Profile   string
	Species   string
	Length    measure.Length // finished, to the long points
	Extra     measure.Length // cut on top of it and lost again, such as the head a driven stake is battered at
	Width     measure.Length // after ripping
	Thickness measure.Length
	Ends      [2]End
	Notches   []Notch
	Course    int      // from 1 at the ground; 0 for parts that are in no course
	Hidden    bool     // out of sight in the finished bed
	MayPiece  bool     // may be joined from shorter lengths
	Eared     bool     // may keep the dog ear a picket is sold with
	Fields    []string // the decisions that shape it
	Body      Prism
	Grain     Axis
	Tilt      float64    // degrees its section or its run is turned out of the level; 0 for most
	Turn      float64    // degrees its run is turned on the level, from Grain anticlockwise; 0 for most
	Mitres    [2]float64 // degrees from square of its mitred ends; 0 is 45
	Skewed    bool       // its mitred ends lean the same way: a parallelogram
}

// Bevels are how far from square its mitred ends are cut, in degrees: 45 round a corner, as
// much as it slopes where it runs up and its ends are plumb.
func (p Part) Bevels() [2]float64 {
	if p.Tilt != 0 {
		return [2]float64{math.Abs(p.Tilt), math.Abs(p.Tilt)}
	}
	cut := p.Mitres
	for i := range cut {
		if cut[i] == 0 {
			cut[i] = 45
		}
	}
	return cut
}

// EndWords says how a part's ends are cut where they are not square, for whoever saws it; ""
// where both are. An angle is to a tenth of a degree, as a saw's scale reads.
func (p Part) EndWords() string {
	switch {
	case p.Ends[0] == Mitred:
		way, cut := "", p.Bevels()
		if p.Skewed {
			way = ", the same way"
		}
		words := "both ends mitred at " + scaled(cut[0])
		flat, steep := scaled(min(cut[0], cut[1])), scaled(max(cut[0], cut[1]))
		if flat != steep { // turned end for end it is the same piece
			words = "one end mitred at " + flat + ", the other at " + steep
		}
		return words + way + ", measured to the long points"
	case p.Ends[0] == Pointed:
		return "one end pointed"
	}
	return ""
}

// scaled is an angle to a tenth of a degree.
func scaled(degrees float64) string {
	return strconv.FormatFloat(math.Round(10*degrees)/10, 'f', -1, 64) + "°"
}

// Way is the direction of a part's grain, of unit length.
func (p Part) Way() [3]float64 {
	var way [3]float64
	way[p.Grain] = 1
	if p.Turn != 0 && p.Grain == X {
		way[Y], way[X] = math.Sincos(p.Turn * math.Pi / 180)
	}
	return way
}
