// Package why says how a figure came about, as data: what was given in words, quantities
// with their names and units, sums of them that are evaluated, a rule and its source. The
// figure that is shown is the result of the last sum, so that whoever takes a calculator to
// what is printed comes to it.
//
// Values are held in SI units (m, m², m³, kg, N, Pa, kg/m³), money in minor units; a [Style]
// writes them in the project's.
package why

import "strings"

// Why is how a figure came about.
type Why struct {
	Given  []string // in words, what is not reckoned with
	Steps  []Step   // what is, in order; the last one's result is the figure
	Rule   string
	Result string // in words, after the sums
	Source string
}

// Step is a quantity with its name: given, or reckoned from those before it.
type Step struct {
	Name string
	Of   Term
	As   Kind // of the result
}

// Given names a quantity that is taken as it is.
func Given(name string, of Term) Step { return Step{name, of, of.kind} }

// Value is the figure's: the result of the last sum, 0 where there is none.
func (w Why) Value() float64 {
	if len(w.Steps) == 0 {
		return 0
	}
	return w.Steps[len(w.Steps)-1].Of.Value()
}

// Text writes the figure as it is shown.
func (w Why) Text(s Style) string {
	if len(w.Steps) == 0 {
		return w.Result
	}
	last := w.Steps[len(w.Steps)-1]
	return s.Write(last.As, last.Of.Value())
}

// Inputs are what was given and what was reckoned on the way, a line each.
func (w Why) Inputs(s Style) []string {
	list := w.Given[:len(w.Given):len(w.Given)]
	for i, x := range w.Steps {
		last := i == len(w.Steps)-1
		switch {
		case x.Of.op == leaf && last:
		case x.Of.op == leaf:
			list = append(list, x.given(s.fine(x.As, x.Of.n)))
		case !last:
			list = append(list, x.said(s, s.fine(x.As, x.Of.Value())))
		}
	}
	return list
}

// Sum is the last sum with its result, "" where nothing is reckoned.
func (w Why) Sum(s Style) string {
	if len(w.Steps) == 0 {
		return ""
	}
	last := w.Steps[len(w.Steps)-1]
	if last.Of.op == leaf {
		return last.given(w.Text(s))
	}
	result := w.Text(s)
	if fine := s.fine(last.As, last.Of.Value()); unit(fine) != unit(result) {
		result = fine + " = " + result // in larger units
	}
	return last.said(s, result)
}

// unit is what stands behind a number.
func unit(text string) string { return strings.TrimLeft(text, "−0123456789.,/' \"") }

// given writes a quantity that is taken as it is behind its name; a bare number stands apart
// from a name that ends with one.
func (x Step) given(value string) string {
	if x.As == Number && x.Name != "" {
		return x.Name + ": " + value
	}
	return strings.TrimSpace(x.Name + " " + value)
}

func (x Step) said(s Style, result string) string {
	name := x.Name
	if name != "" {
		name += ": "
	}
	return name + x.Of.Write(s) + " = " + result
}

// Told is a why as it is read: what was given and reckoned on the way, the rule, the last
// sum with its result, what else there is to say, and who says so.
type Told struct {
	Inputs                    []string
	Rule, Sum, Result, Source string
}

// Told writes a why out.
func (w Why) Told(s Style) Told { return Told{w.Inputs(s), w.Rule, w.Sum(s), w.Result, w.Source} }

// String is all of it but its source, in one run of sentences.
func (t Told) String() string {
	var list []string
	for _, part := range []string{strings.Join(t.Inputs, ", "), t.Rule, t.Sum, t.Result} {
		if part = strings.TrimSpace(part); part == "" {
			continue
		}
		if !strings.HasSuffix(part, ".") {
			part += "."
		}
		list = append(list, part)
	}
	return strings.Join(list, " ")
}
