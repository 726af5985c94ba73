package design

import (
	"cmp"
	"errors"
	"fmt"
	"slices"

	"chamfer/core/catalog"
)

// TakesDown reports whether an edit takes down what came of the work (a board cut, a price paid, what is there
// already) and decides nothing about what is built.
func (e Edit) TakesDown() bool {
	k, _, known := kindOf(e.Field)
	return known && k.down
}

// Touches reports whether two edits are about the same thing: one decision, one bed as a whole, or all of the project.
func (e Edit) Touches(o Edit) bool {
	if e.whole() || o.whole() {
		return e.whole() && o.whole() || e.Field == "region" || o.Field == "region"
	}
	if e.bed() != o.bed() {
		return false
	}
	return e.Field == o.Field || e.Field == "remove-bed" || o.Field == "remove-bed" || e.bed() != "" &&
		(e.Field == "system" || o.Field == "system")
}

// Meet reports whether any of some edits is about the same as any of others.
func Meet(some, others []Edit) bool {
	return slices.ContainsFunc(some, func(e Edit) bool { return slices.ContainsFunc(others, e.Touches) })
}

// whole reports whether an edit is of the list of beds, or of all there is.
func (e Edit) whole() bool {
	return e.Field == "add-bed" || e.Field == "copy-bed" || e.Field == "region"
}

// bed is the bed that an edit is of, "" where it is the project's.
func (e Edit) bed() string {
	if k, _, known := kindOf(e.Field); known && !k.ofBed {
		return ""
	}
	return e.Bed
}

// Step is one change in the history of a design: what was edited, and the step it takes back.
type Step struct {
	ID     int64
	Edits  []Edit // nil where they are not known
	Undoes int64  // step that is taken back, 0 for none
	Made   Design // what it came to
}

// Stands says which later step stands in the way of taking an earlier one back.
type Stands struct {
	Step   int64
	Reason error
}

func (s *Stands) Error() string {
	return fmt.Sprintf("step %d stands in the way: %v", s.Step, s.Reason)
}
func (s *Stands) Unwrap() error { return s.Reason }

// Reasons a step stands in the way.
var (
	ErrSame    = errors.New("it is about the same")
	ErrUnknown = errors.New("what it changed is not known")
	ErrOther   = errors.New("it would come to other beds")
)

// Undone are the steps that others have taken back, from the oldest step of a chain to the newest. One that takes back
// and was taken back itself takes back nothing.
func Undone(chain []Step) map[int64]bool {
	undone := map[int64]bool{}
	for _, st := range slices.Backward(chain) {
		if st.Undoes != 0 && !undone[st.ID] {
			undone[st.Undoes] = true
		}
	}
	return undone
}

// Without is what a chain of steps, the oldest first, comes to without one of them: what was edited after it is
// edited anew on what was before it. A later step that is about the same, or that cannot be taken without it,
// [Stands] in the way. The step itself may be one that takes another back.
func Without(chain []Step, step int64) (Design, error) {
	at := slices.IndexFunc(chain, func(st Step) bool { return st.ID == step })
	if at <= 0 {
		return Design{}, &Stands{step, ErrUnknown}
	}
	undone := Undone(chain)
	undone[step] = true
	back := chain[at] // what it says is what comes or goes
	if back.Undoes != 0 {
		undone[back.Undoes] = false
		i := slices.IndexFunc(chain, func(st Step) bool { return st.ID == back.Undoes })
		if i <= 0 {
			return Design{}, &Stands{back.Undoes, ErrUnknown}
		}
		back = chain[i]
	}
	if back.Edits == nil {
		return Design{}, &Stands{step, ErrUnknown}
	}
	from := at // what comes before has none of it
	for i, st := range chain {
		if i > 0 && (undone[st.ID] || st.ID == back.ID) {
			from = min(from, i)
		}
	}
	d := chain[from-1].Made
	for i := from; i < len(chain); i++ {
		st := chain[i]
		if undone[st.ID] || st.Undoes != 0 {
			continue
		}
		if st.Edits == nil {
			return Design{}, &Stands{st.ID, ErrUnknown}
		}
		if st.ID > back.ID && Meet(st.Edits, back.Edits) {
			return Design{}, &Stands{st.ID, ErrSame}
		}
		cat, err := catalog.ForRegion(d.Region)
		if err != nil {
			return Design{}, &Stands{st.ID, err}
		}
		next, err := Apply(d, cat, st.Edits...)
		if err != nil {
			return Design{}, &Stands{st.ID, err}
		}
		if st.ID != back.ID && !slices.Equal(added(d, next), added(chain[i-1].Made, st.Made)) {
			return Design{}, &Stands{st.ID, ErrOther}
		}
		d = next
	}
	return d, nil
}

// added are the numbers of the beds that are in a design and were not.
func added(was, is Design) []string {
	var list []string
	for _, b := range is.Beds {
		if !slices.ContainsFunc(was.Beds, func(o Bed) bool { return o.ID == b.ID }) {
			list = append(list, b.ID)
		}
	}
	slices.SortFunc(list, cmp.Compare)
	return list
}
