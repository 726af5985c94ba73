package why

import (
	"math"
	"strconv"
	"strings"

	"chamfer/core/measure"
	"chamfer/core/money"
)

// Term is a quantity, or a sum of terms. The zero Term is nothing, and adds nothing.
type Term struct {
	op    op
	kind  Kind // of a leaf
	n     float64
	name  string // of a leaf inside a sum
	terms []Term
}

type op uint8

const (
	leaf op = iota
	sum
	product
	quotient
	difference
	roundedUp
	root
	greatest
)

// Of is a quantity of a kind, in SI units.
func Of(kind Kind, n float64) Term { return Term{kind: kind, n: n} }

// Called names a quantity inside a sum: 0.9 sq ft of its corners.
func (t Term) Called(name string) Term {
	t.name = name
	return t
}

// Count is a number of things.
func Count(n int) Term { return Of(Number, float64(n)) }

// Pi is the circle's.
var Pi = Of(pi, math.Pi)

// Long is a length.
func Long(l measure.Length) Term { return Of(Length, l.Metres()) }

// Room is a volume.
func Room(v measure.Volume) Term { return Of(Volume, v.CubicMetres()) }

// Face is an area.
func Face(a measure.Area) Term { return Of(Area, a.SquareMetres()) }

// Paid is an amount of money.
func Paid(a money.Amount) Term { return Of(Money, float64(a)) }

// Sum adds terms; those that are nothing are left out.
func Sum(terms ...Term) Term {
	var list []Term
	for _, t := range terms {
		if t.op != leaf || t.n != 0 {
			list = append(list, t)
		}
	}
	switch len(list) {
	case 0:
		if len(terms) > 0 {
			return terms[0]
		}
		return Term{}
	case 1:
		return list[0]
	}
	return Term{op: sum, terms: list}
}

// Less takes others from a term; those that are nothing are left out.
func Less(from Term, others ...Term) Term {
	list := []Term{from}
	for _, t := range others {
		if t.op != leaf || t.n != 0 {
			list = append(list, t)
		}
	}
	if len(list) == 1 {
		return from
	}
	return Term{op: difference, terms: list}
}

// Times multiplies terms; a plain one is left out.
func Times(terms ...Term) Term {
	var list []Term
	for _, t := range terms {
		if t.op != leaf || t.kind != Number || t.n != 1 {
			list = append(list, t)
		}
	}
	switch len(list) {
	case 0:
		return Count(1)
	case 1:
		return list[0]
	}
	return Term{op: product, terms: list}
}

// Over divides.
func Over(a, b Term) Term { return Term{op: quotient, terms: []Term{a, b}} }

// Up rounds up to a whole number.
func Up(t Term) Term { return Term{op: roundedUp, terms: []Term{t}} }

// Root is the square root.
func Root(t Term) Term { return Term{op: root, terms: []Term{t}} }

// Greatest is the largest of terms.
func Greatest(terms ...Term) Term {
	if len(terms) == 1 {
		return terms[0]
	}
	return Term{op: greatest, terms: terms}
}

// wholeness forgives what sums in floating point are off a whole number.
const wholeness = 1e-9

// Value evaluates t.
func (t Term) Value() float64 {
	if t.op == leaf {
		return t.n
	}
	v := t.terms[0].Value()
	if t.op == roundedUp {
		return math.Ceil(v-wholeness) + 0 // never −0
	}
	if t.op == root {
		return math.Sqrt(v)
	}
	for _, x := range t.terms[1:] {
		switch n := x.Value(); t.op {
		case sum:
			v += n
		case difference:
			v -= n
		case product:
			v *= n
		case quotient:
			v /= n
		case greatest:
			v = math.Max(v, n)
		}
	}
	return v
}

// Dimension is a quantity's, as exponents of metre, kilogram, second and money.
type Dimension [4]int

// Dimension is t's; false where its terms do not go together.
func (t Term) Dimension() (Dimension, bool) {
	if t.op == leaf {
		return kinds[t.kind].dimension, true
	}
	d, ok := t.terms[0].Dimension()
	if t.op == roundedUp {
		return d, ok && d == Dimension{}
	}
	if t.op == root {
		for i := range d {
			ok = ok && d[i]%2 == 0
			d[i] /= 2
		}
		return d, ok
	}
	for _, x := range t.terms[1:] {
		e, fine := x.Dimension()
		ok = ok && fine
		for i := range d {
			switch t.op {
			case product:
				d[i] += e[i]
			case quotient:
				d[i] -= e[i]
			default:
				ok = ok && d[i] == e[i]
			}
		}
	}
	return d, ok
}

// signs stand between terms.
var signs = map[op]string{sum: " + ", difference: " − ", product: " × ", quotient: " ÷ "}

// binds says how closely an operation holds its terms together.
func (t Term) binds() int {
	switch t.op {
	case leaf, root:
		return 3
	case product:
		return 2
	case quotient:
		return 2
	case sum, difference:
		return 1
	}
	return 0
}

// Write writes t with the values of what is in it.
func (t Term) Write(s Style) string {
	switch t.op {
	case leaf:
		if t.name != "" {
			return s.fine(t.kind, t.n) + " " + t.name
		}
		return s.fine(t.kind, t.n)
	case roundedUp:
		return t.terms[0].Write(s) + ", rounded up"
	case root:
		return "√(" + t.terms[0].Write(s) + ")"
	case greatest:
		var list []string
		for _, x := range t.terms {
			list = append(list, x.Write(s))
		}
		return "the greatest of " + strings.Join(list, " and ")
	}
	var list []string
	for i, x := range t.terms {
		text := x.Write(s)
		first := i == 0 && x.binds() == t.binds() && x.op != leaf
		if x.binds() <= t.binds() && !first && !(t.op == product && x.op == product) &&
			!(t.op == sum && x.binds() == 1 && x.op == sum) {
			text = "(" + text + ")"
		}
		list = append(list, text)
	}
	return strings.Join(list, signs[t.op])
}

// plain writes a number with as many digits as it has, up to some.
func plain(n float64, digits int) string {
	text := strconv.FormatFloat(n, 'f', digits, 64)
	if strings.Contains(text, ".") {
		text = strings.TrimRight(strings.TrimRight(text, "0"), ".")
	}
	return text
}
