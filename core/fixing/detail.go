package fixing

import (
	"fmt"
	"slices"

	"chamfer/core/catalog"
	"chamfer/core/frame"
	"chamfer/core/measure"
)

// Detail is how one kind of joint is made: where its screws go and what holes they want.
// Joints of a kind that are made alike share one.
//
//	 ______________            ____ ____________
//	| Edge         |          |    |            |
//	|  o  <- End   |     (|===|####|>  Thread   |
//	|  | Apart     |          |    |     Behind |
//	|  o           |          |____|____________|
//	|______________|         Through     Into
type Detail struct {
	Kind     frame.JointKind
	Fixing   catalog.Fixing
	Joints   int
	Each     int
	Face     int // of those, on the face that is drawn
	Through  measure.Length
	Into     measure.Length
	Run      measure.Length // that the screws are spread over
	Past     measure.Length // of the fastened piece past the other, beyond the run, at its upper edge
	EndGrain bool
	Edge     measure.Length // from an edge, or the end of the run, to the nearest screw
	Apart    measure.Length // from screw to screw
	End      measure.Length // from the fastened piece's end; 0 where that is no matter
	// that those of the neighbour round the corner are lower, so that they pass; 0 where none comes
	Offset measure.Length
	Pilot  measure.Length
	Clear  measure.Length // hole through the fastened piece: 0 for pocket screws and staples
	Thread measure.Length // in the far piece
	Behind measure.Length // of wood behind its tip
	Washer bool
	Sink   bool // its head wants a countersink: the piece is too dense to give way
	Bit    string
	Rule   string
}

// Details lists how the joints of frames are made, in the order they come.
func (p Plan) Details(frames []frame.Frame, cat *catalog.Catalog) []Detail {
	var list []Detail
	for i := range frames {
		f := &frames[i]
		corners := turned(f)
		for _, j := range f.Joints {
			d, ok := p.one(j, f, corners, cat)
			if !ok {
				continue
			}
			k := slices.IndexFunc(list, d.alike)
			if k < 0 {
				k = len(list)
				list = append(list, d)
			}
			list[k].Joints += f.Times
		}
	}
	return list
}

// OfJoints are the details of a bed's joints one by one, by the joint's ID; those without a fixing are not there.
func (p Plan) OfJoints(f *frame.Frame, cat *catalog.Catalog) map[string]Detail {
	corners, out := turned(f), map[string]Detail{}
	for _, j := range f.Joints {
		if d, ok := p.one(j, f, corners, cat); ok {
			out[j.ID] = d
		}
	}
	return out
}

// one is how one joint is made; corners are the posts that two walls meet at.
func (p Plan) one(j frame.Joint, f *frame.Frame, corners map[string]bool, cat *catalog.Catalog) (Detail, bool) {
	x, ok := p.ByJoint[j.ID]
	if !ok {
		return Detail{}, false
	}
	d := detail(j, x, f, cat)
	if corners[j.Parts[1]] && (j.Kind == frame.FaceToPost || j.Kind == frame.CarryToPost) {
		// Four diameters, but never so low that the last comes near the edge (common practice).
		d.Offset = min(4*x.Fixing.Diameter, d.Edge/2)
		if d.Face > 1 {
			d.Offset = min(d.Offset, d.Apart/2)
		}
	}
	return d, true
}

func (d Detail) alike(o Detail) bool {
	return d.Kind == o.Kind && d.Fixing.ID == o.Fixing.ID && d.Each == o.Each && d.Through == o.Through &&
		d.Into == o.Into &&
		d.Run == o.Run &&
		d.Past == o.Past &&
		d.End == o.End &&
		d.Offset == o.Offset &&
		d.Pilot == o.Pilot
}

func detail(j frame.Joint, x Fixed, f *frame.Frame, cat *catalog.Catalog) Detail {
	s := x.Fixing
	d := Detail{
		Kind:     j.Kind,
		Fixing:   s,
		Each:     x.Count,
		Face:     x.Count,
		Through:  j.Through,
		Into:     j.Into,
		Run:      j.Run,
		Past:     j.Past,
		EndGrain: j.EndGrain,
		Pilot:    x.Pilot,
		Washer:   s.Kind == catalog.Lag,
		Thread: min(
			s.Length-j.Through,
			s.Thread(),
		),
		Behind: j.Through + j.Into - s.Length,
		Bit:    bit(s, cat.System),
		Rule:   rules[j.Kind].words,
	}
	metal := j.Kind == frame.Bracket || j.Kind == frame.Splice // has holes of its own
	if s.Kind != catalog.Pocket && !metal {
		d.Clear = clearance(s, cat)
	}
	if metal { // half of them in the other board
		d.Face = x.Count / 2
	}
	if n := measure.Length(d.Face); rules[j.Kind].spacing > 0 && n > 1 {
		d.Edge = min(2*measure.Inch, j.Run/(2*n))
		d.Apart = (j.Run - 2*d.Edge) / (n - 1)
	} else {
		d.Edge = j.Run / (2 * n)
		d.Apart = j.Run / n
	}
	if x.Count == 1 {
		d.Apart = 0
	}
	if near, ok := f.Part(j.Parts[0]); ok && s.Kind == catalog.Screw && !metal {
		if wood, err := cat.SpeciesOf(near.Species); err == nil {
			d.Sink = wood.SpecificGravity() >= dense
		}
	}
	if far, ok := f.Part(j.Parts[1]); ok {
		switch j.Kind {
		case frame.FaceToPost, frame.CarryToPost, frame.FaceToEnd, frame.BoltToEnd:
			d.End = min(far.Thickness, far.Width) / 2
		}
	}
	return d
}

// dense is the specific gravity from which a head does not draw itself in: southern pine
// and oak (common practice).
const dense = 0.55

// turned are the parts that boards are fixed to from two sides: corner posts.
func turned(f *frame.Frame) map[string]bool {
	ways := map[string][2]bool{}
	for _, j := range f.Joints {
		p, ok := f.Part(j.Parts[0])
		if !ok || j.Kind != frame.FaceToPost && j.Kind != frame.CarryToPost {
			continue
		}
		w := ways[j.Parts[1]]
		w[map[bool]int{true: 0, false: 1}[p.Grain == frame.X]] = true
		ways[j.Parts[1]] = w
	}
	both := map[string]bool{}
	for id, w := range ways {
		both[id] = w[0] && w[1]
	}
	return both
}

// clearance is the drill that lets the shank through: the smallest no thinner than it
// (NDS 2018 12.1.4 and 12.1.5: clearance as the shank, from memory).
func clearance(f catalog.Fixing, cat *catalog.Catalog) measure.Length {
	best := measure.Length(0)
	for _, d := range cat.Drills {
		if d >= f.Diameter && (best == 0 || d < best) {
			best = d
		}
	}
	if best == 0 {
		best = f.Diameter
	}
	return best
}

// bit is what drives it (common practice: star drives by thickness, hex heads of lags
// by theirs).
func bit(f catalog.Fixing, system measure.System) string {
	if f.Kind == catalog.Lag {
		if system == measure.Imperial {
			if f.Diameter > measure.Inch/3 {
				return "socket 9/16 in"
			}
			return "socket 1/2 in"
		}
		if f.Diameter > 9*measure.Millimetre {
			return "socket 17 mm"
		}
		return "socket 13 mm"
	}
	switch d := f.Diameter; {
	case f.Kind == catalog.Staple:
		return ""
	case d < 43*measure.Millimetre/10:
		return "star bit 20"
	case d < 55*measure.Millimetre/10:
		return "star bit 25"
	}
	return "star bit 30"
}

// Words say how a joint is made, for reading beside its drawing.
func (d Detail) Words(p measure.Precision) []string {
	words := []string{fmt.Sprintf("%d × %s in each of %s.", d.Each, d.Fixing.Name, measure.Count(d.Joints, "joint"))}
	switch {
	case d.Fixing.Kind == catalog.Pocket:
		words = append(words, "Drill the pockets with the jig set for this board, from the inside, so that none shows.")
	case d.Washer:
		words = append(
			words,
			fmt.Sprintf(
				"Drill %v through the first piece, the shank's own size, and %v into the second, as deep as the bolt"+
					" goes. A washer under each head.",
				d.Clear,
				d.Pilot,
			),
		)
	case d.Kind == frame.Bracket || d.Kind == frame.Splice:
		words = append(
			words,
			fmt.Sprintf(
				"Drill %v into the boards through the metal's own holes; half of them go into either board.",
				d.Pilot,
			),
		)
	case d.Clear > 0 && d.Pilot > 0:
		words = append(
			words,
			fmt.Sprintf(
				"Drill %v through the first piece and %v into the second, so that the screw draws them together.",
				d.Clear,
				d.Pilot,
			),
		)
	}
	if d.Sink {
		words = append(words, "Countersink for the heads: this wood does not give way to them, and splits instead.")
	}
	if d.EndGrain {
		words = append(words, "Its thread is in end grain, which holds less and splits sooner: drill every one.")
	}
	if d.Past > 0 {
		words = append(words, fmt.Sprintf("What it is screwed to ends %s below its upper edge: measure from the lower one.",
			p.Short(d.Past)))
	}
	if d.Offset > 0 {
		words = append(
			words,
			fmt.Sprintf("Round the corner set them %s lower (dashed), so that they pass these.", p.Short(d.Offset)),
		)
	}
	if d.Kind == frame.CapToWall || d.Kind == frame.SlatLedger {
		words = append(words, "Heads flush, no deeper: a hole that holds water rots.")
	}
	if d.Bit != "" {
		words = append(words, "Driven with a "+d.Bit+".")
	}
	return words
}
