package terrain

import (
	"fmt"
	"math"

	"chamfer/core/measure"
)

// Reading is one line of what was read, about one peg. Where the peg stands is said once, in
// any of its lines; one without a place, a turning point, is no part of the surface.
//
// A line says a height, or what was read on a staff there (back, between or fore sight, at a
// turning point a fore and a back sight), or what a plank or a water tube gave: how high its
// level stood over the peg it was carried from, and over this one.
type Reading struct {
	Peg     string          `json:"peg"`
	Right   *measure.Length `json:"right,omitempty"` // from the plot's left
	Out     *measure.Length `json:"out,omitempty"`   // from its front
	Height  *measure.Level  `json:"height,omitempty"`
	Back    *measure.Length `json:"back,omitempty"`
	Between *measure.Length `json:"between,omitempty"`
	Fore    *measure.Length `json:"fore,omitempty"`
	From    string          `json:"from,omitempty"`
	There   *measure.Length `json:"there,omitempty"`
	Here    *measure.Length `json:"here,omitempty"`
}

// Line is what a reading comes to.
type Line struct {
	Reading
	Step    measure.Length // how much higher this peg is than the one before, by the staff
	Stepped bool
	Sight   measure.Length // height of the instrument after it
	Sighted bool
	Read    measure.Length // the peg's height as it was read
	Shared  measure.Length // of the misclosure, what falls to it
	Height  measure.Length // as it is taken
	Again   bool           // its height was known already
	Off     measure.Length // then: how far what was read is off that
}

// Run is a chain of staff sights from one peg to another.
type Run struct {
	First, Last int // lines
	SetUps      int
	Back, Fore  measure.Length // sums of sights
	Rise, Fall  measure.Length // sums of steps
	From, To    measure.Length // height of the first peg and, as read, of the last
	Closed      bool           // it ends at a peg whose height was known
	Misclosure  measure.Length
	Allowed     measure.Length
	Shared      bool // it is within what is allowed, and was shared out
}

// Survey is all that was read, and what it comes to.
type Survey struct {
	Lines []Line
	Runs  []Run
	Pegs  []Peg // with a place and a height, in the order they were read first
}

// Allowed is what a run of so many set-ups of the level may be out: 5 mm by the square root of
// their number (building and site work; survey textbooks, from memory).
func Allowed(setups int) measure.Length {
	return measure.Length(math.Round(5 * float64(measure.Millimetre) * math.Sqrt(float64(setups))))
}

// Fault is a line that cannot be read, from 1.
type Fault struct {
	Line   int
	Peg    string
	Reason string
}

func (f *Fault) Error() string { return fmt.Sprintf("line %d, %s: %s", f.Line, f.Peg, f.Reason) }

// Reduce works out heights from readings, in their order. It fails with a [Fault] at the first
// line that makes no sense.
func Reduce(list []Reading) (Survey, error) {
	r := &reducer{known: map[string]measure.Length{}}
	for i, x := range list {
		if err := r.line(i, x); err != nil {
			return Survey{}, err
		}
	}
	r.place()
	return r.Survey, nil
}

type reducer struct {
	Survey
	known  map[string]measure.Length
	run    *Run
	height measure.Length // of the instrument
	sight  measure.Length // the last sight taken from it
}

func (r *reducer) line(i int, x Reading) error {
	fault := func(format string, args ...any) error {
		return &Fault{i + 1, x.Peg, fmt.Sprintf(format, args...)}
	}
	staff := x.Back != nil || x.Between != nil || x.Fore != nil
	carried := x.From != "" || x.There != nil || x.Here != nil
	l := Line{Reading: x}
	was, known := r.known[x.Peg]
	switch {
	case staff && carried:
		return fault("it is read on a staff or carried over from another peg, not both in one line")
	case carried:
		from, ok := r.known[x.From]
		switch {
		case !ok:
			return fault("the height of the peg it is carried from, %q, is not known by then", x.From)
		case x.There == nil || x.Here == nil:
			return fault("both readings are wanted: over the peg it is carried from, and over this one")
		case x.Height != nil:
			return fault("its height is given; leave out what it was carried from")
		}
		l.Read = from + *x.There - *x.Here
	case staff:
		if x.Height != nil {
			if known && was != measure.Length(*x.Height) {
				return fault("its height was another in a line before")
			}
			was, known = measure.Length(*x.Height), true
		}
		if err := r.staff(i, &l, was, known, fault); err != nil {
			return err
		}
	case x.Height != nil:
		l.Read = measure.Length(*x.Height)
	case known: // only its place
		l.Read = was
	default:
		return fault("nothing was read: give its height, a sight, or what it was carried from")
	}
	l.Height = l.Read
	if known && !(x.Height != nil && l.Read == measure.Length(*x.Height)) {
		l.Again, l.Off, l.Height = true, l.Read-was, was
	}
	r.Lines = append(r.Lines, l)
	if r.run != nil && staff && x.Fore != nil && x.Back == nil {
		r.close(i, was, known)
	}
	if _, there := r.known[x.Peg]; !there {
		r.known[x.Peg] = r.Lines[i].Height
	}
	return nil
}

// staff reads a sight.
func (r *reducer) staff(i int, l *Line, was measure.Length, known bool, fault func(string, ...any) error) error {
	x := l.Reading
	if r.run == nil {
		if x.Back == nil || x.Between != nil || x.Fore != nil {
			return fault("a level that was just set up first sights back to a peg: give a back sight")
		}
		if !known {
			was = 0
		}
		r.run = &Run{First: i, Last: i, SetUps: 1, From: was, Back: *x.Back}
		l.Read = was
		r.height, r.sight = was+*x.Back, *x.Back
		l.Sight, l.Sighted = r.height, true
		return nil
	}
	var now measure.Length
	switch {
	case x.Between != nil && x.Fore == nil && x.Back == nil:
		now = *x.Between
	case x.Fore != nil && x.Between == nil:
		now = *x.Fore
		r.run.Fore += now
	case x.Back != nil && x.Fore == nil:
		return fault("the level is moved at a peg that is read from both sides: give its fore sight too")
	default:
		return fault("one sight is taken to a peg, at a turning point a fore and a back sight")
	}
	l.Read = r.height - now
	l.Step, l.Stepped = r.sight-now, true
	if l.Step > 0 {
		r.run.Rise += l.Step
	} else {
		r.run.Fall -= l.Step
	}
	r.run.Last, r.run.To, r.sight = i, l.Read, now
	if x.Fore != nil && x.Back != nil {
		r.run.SetUps++
		r.run.Back += *x.Back
		r.height, r.sight = l.Read+*x.Back, *x.Back
		l.Sight, l.Sighted = r.height, true
	}
	return nil
}

// close ends a run at a peg; where its height is known, what the run is out is shared among
// its lines by the set-up they were read from, if it is no more than is allowed.
func (r *reducer) close(i int, was measure.Length, known bool) {
	run := r.run
	r.run = nil
	if known {
		run.Closed, run.Misclosure, run.Allowed = true, run.To-was, Allowed(run.SetUps)
		run.Shared = max(run.Misclosure, -run.Misclosure) <= run.Allowed
	}
	if run.Shared {
		setup := 1
		for k := run.First + 1; k <= i; k++ {
			l := &r.Lines[k]
			l.Shared = -part(run.Misclosure, setup, run.SetUps)
			if !l.Again {
				l.Height = l.Read + l.Shared
				r.known[l.Peg] = l.Height
			}
			if l.Back != nil {
				setup++
			}
		}
	}
	r.Runs = append(r.Runs, *run)
}

// part is so many of so many parts of a length, to the nearest nanometre.
func part(l measure.Length, k, n int) measure.Length {
	return measure.Length(math.Round(float64(l) * float64(k) / float64(n)))
}

// place finishes a run that was left open, and lists the pegs of which the place is known.
func (r *reducer) place() {
	if r.run != nil {
		r.Runs = append(r.Runs, *r.run)
	}
	at := map[string]int{}
	for _, l := range r.Lines {
		if l.Right == nil || l.Out == nil {
			continue
		}
		p := Peg{l.Peg, *l.Right, *l.Out, r.known[l.Peg]}
		if k, ok := at[l.Peg]; ok {
			r.Pegs[k] = p
			continue
		}
		at[l.Peg] = len(r.Pegs)
		r.Pegs = append(r.Pegs, p)
	}
}
