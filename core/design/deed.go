package design

// Purpose is what a decision can do for a bed, whichever system or extra makes it. Who
// looks for a remedy asks for the purpose and never for a system's own key.
type Purpose string

// The purposes.
const (
	HangsFloor   Purpose = "hangs the floor better"
	HangsBeams   Purpose = "hangs the beams better"
	TurnsBeams   Purpose = "runs the beams the short way"
	AddsLegs     Purpose = "adds legs between the corners"
	FreesLegs    Purpose = "lets legs stand between the corners"
	BracesLegs   Purpose = "braces the legs"
	TiesWalls    Purpose = "ties the long walls together"
	HoldsCorners Purpose = "holds the corners harder"
	PinsStacks   Purpose = "pins stacks to the ground"
	SetsPosts    Purpose = "sets how deep posts stand that hold the walls"
	SetsRim      Purpose = "sets how high the rim is"
	DrainsFloor  Purpose = "lets water through the floor"
	StandsTall   Purpose = "stands tall in the wind"
	SetsTall     Purpose = "sets how tall it stands"
	SpansPath    Purpose = "spans the path beside the bed"
	SetsSpan     Purpose = "sets how wide a path is spanned"
	FacesFront   Purpose = "gives the front a timber of its own"
	ReadsCorners Purpose = "reads the heights of the ground at its corners"
	FloorsInside Purpose = "hangs a floor inside its walls"
	Contours     Purpose = "runs along the ground at one height"
)

// Deed is what one value of a decision does.
type Deed struct {
	For   Purpose
	Value string // that does it; "" where any number or length does, more or less
	Words string // what that is called as a remedy
}

// Serving is a decision of a bed with what it does.
type Serving struct {
	Field
	Deed
}

// Taken reports whether a bed has it so already.
func (s Serving) Taken(b Bed) bool { return s.Field.value(b) == s.Value }

// IdleOn reports whether it would change nothing on a bed.
func (s Serving) IdleOn(b Bed) bool { return s.Idle != nil && s.Idle(b) != "" }

// Edit makes the decision.
func (s Serving) Edit(b Bed) Edit { return Edit{Bed: b.ID, Field: s.Key, Value: s.Value} }

// To makes the decision with a number or length that does it.
func (s Serving) To(b Bed, value string) Edit { return Edit{Bed: b.ID, Field: s.Key, Value: value} }

// Serves lists the decisions of a bed that serve a purpose, in their order.
func Serves(b Bed, what Purpose) []Serving {
	var list []Serving
	for _, f := range FieldsOf(b) {
		for _, d := range f.Does {
			if d.For == what {
				list = append(list, Serving{f, d})
			}
		}
	}
	return list
}

// Serve is the first of those, false where there is none.
func Serve(b Bed, what Purpose) (Serving, bool) {
	list := Serves(b, what)
	if len(list) == 0 {
		return Serving{}, false
	}
	return list[0], true
}
