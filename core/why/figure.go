package why

// Figure is one number that is told: its text, the number behind it in SI units (for
// differences), what kind it is of, and how it came about.
type Figure struct {
	Key, Label string
	Text       string
	Value      float64
	As         Kind
	Why        Why
}

// Figure is the figure that a why comes to.
func (s Style) Figure(key, label string, w Why) Figure {
	f := Figure{Key: key, Label: label, Text: w.Text(s), Value: w.Value(), Why: w}
	if n := len(w.Steps); n > 0 {
		f.As = w.Steps[n-1].As
	}
	return f
}

// Added adds steps up: one alone is the figure as it is, of several their results are
// added in one more step. More than eight of them are told as so many more together.
func Added(name string, as Kind, steps ...Step) []Step {
	const told = 8
	if len(steps) == 0 {
		return []Step{{name, Of(as, 0), as}}
	}
	if len(steps) == 1 {
		return steps
	}
	var parts []Term
	for _, x := range steps {
		parts = append(parts, Of(x.As, x.Of.Value()))
	}
	if n := len(steps) - told; n > 1 {
		rest := Sum(parts[told:]...)
		steps = append(steps[:told:told], Given("the other "+plain(float64(n), 0)+" together", Of(as, rest.Value())))
		parts = append(parts[:told:told], Of(as, rest.Value()))
	}
	return append(steps, Step{name, Sum(parts...), as})
}
