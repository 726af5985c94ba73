package cutting

import (
	"math"
	"slices"
)

// tableau is the program over fillings that are all listed: so many of each that
// every row's sum is no less than it has to be, for the least price.
//
//	           filling  filling  slack   (of every column one, none of it used)
//	filling  |    .        .       .   | so many of it
//	slack    |    .        .       .   | so much over
//	price    |    .        .       .   | of all
//
// Prices are not below nothing, so that it is brought to its least by the dual
// simplex method (Lemke 1954, Naval Research Logistics 1:36), from no fillings at
// all, and again after every row that is put in.
type tableau struct {
	price []int64 // cents, of a filling
	most  []int64 // a plan need not use a filling more often
	rows  []row
	basic []int // the variable of each line: a filling or, after those, the slack of a row
	other []int // and of each column
	lines [][]float64
	rhs   []float64
	more  []float64 // what a plan costs more with one of each column's variable
	cost  float64
	spent int64 // work, in numbers gone through
}

// row is a sum over fillings, coefficient times number, that is at least so much.
type row struct {
	of    []int64
	least int64
	plane bool // put in to cut off what is not whole; it may be dropped
}

func newTableau(price, most []int64) *tableau {
	p := &tableau{price: price, most: most, other: make([]int, len(price)), more: make([]float64, len(price))}
	for j, cents := range price {
		p.other[j], p.more[j] = j, float64(cents)
	}
	return p
}

func (p *tableau) copied() *tableau {
	c := *p
	c.rows, c.basic, c.other = slices.Clone(p.rows), slices.Clone(p.basic), slices.Clone(p.other)
	c.rhs, c.more = slices.Clone(p.rhs), slices.Clone(p.more)
	c.lines = make([][]float64, len(p.lines))
	wide := len(p.more)
	all := make([]float64, len(p.lines)*wide)
	for i, line := range p.lines {
		c.lines[i] = all[i*wide : (i+1)*wide : (i+1)*wide]
		copy(c.lines[i], line)
	}
	return &c
}

// add puts in a row, with its slack in the basis.
func (p *tableau) add(r row) {
	line, rhs := make([]float64, len(p.more)), -float64(r.least)
	for j, v := range p.other {
		if v < len(p.price) {
			line[j] = -float64(r.of[v])
		}
	}
	for i, v := range p.basic {
		if v >= len(p.price) || r.of[v] == 0 {
			continue
		}
		a := float64(r.of[v])
		rhs += a * p.rhs[i]
		for j, t := range p.lines[i] {
			line[j] += a * t
		}
		p.spent += int64(len(line))
	}
	for j, t := range line {
		if math.Abs(t) < 1e-11 {
			line[j] = 0 // but for rounding
		}
	}
	p.basic = append(p.basic, len(p.price)+len(p.rows))
	p.rows, p.lines, p.rhs = append(p.rows, r), append(p.lines, line), append(p.rhs, rhs)
}

// solve brings the program to its least, or until it costs more than a limit. Where
// nothing keeps all rows it returns how many times each row, added up, shows that.
func (p *tableau) solve(limit float64) (ray []float64) {
	for turns := 50 * (len(p.rows) + 10); turns > 0 && p.cost <= limit; turns-- {
		line, worst := -1, -1e-7
		for i, v := range p.rhs {
			if v < worst {
				line, worst = i, v
			}
		}
		if line < 0 {
			return nil
		}
		col, ratio, size := -1, math.Inf(1), 0.0
		for j, t := range p.lines[line] {
			if t < -1e-9 {
				if r := p.more[j] / -t; r < ratio-1e-9 || r < ratio+1e-9 && -t > size {
					col, ratio, size = j, r, -t
				}
			}
		}
		p.spent += int64(len(p.more))
		if col < 0 {
			return p.ray(line)
		}
		p.pivot(line, col)
	}
	return nil
}

// ray reads off a line without a way out how many times each row shows it.
func (p *tableau) ray(line int) []float64 {
	ray := make([]float64, len(p.rows))
	for j, v := range p.other {
		if v >= len(p.price) {
			ray[v-len(p.price)] = max(0, p.lines[line][j])
		}
	}
	if v := p.basic[line]; v >= len(p.price) {
		ray[v-len(p.price)] = 1
	}
	return ray
}

// pivot changes the variable of a line for that of a column.
func (p *tableau) pivot(line, col int) {
	on := p.lines[line]
	d := 1 / on[col]
	on[col] = 1
	for j := range on {
		on[j] *= d
	}
	p.rhs[line] *= d
	for i, to := range p.lines {
		a := to[col]
		if i == line || a == 0 {
			continue
		}
		to[col] = 0
		to = to[:len(on)]
		for j, t := range on {
			to[j] -= a * t
		}
		p.rhs[i] -= a * p.rhs[line]
		p.spent += int64(len(on))
	}
	a := p.more[col]
	p.more[col] = 0
	for j, t := range on {
		p.more[j] = max(0, p.more[j]-a*t)
	}
	p.cost += a * p.rhs[line]
	p.spent += 2 * int64(len(on))
	p.basic[line], p.other[col] = p.other[col], p.basic[line]
}

// prices of the rows: what a plan costs more where a row has to come to one more.
func (p *tableau) prices() []float64 {
	y := make([]float64, len(p.rows))
	for j, v := range p.other {
		if v >= len(p.price) {
			y[v-len(p.price)] = p.more[j]
		}
	}
	return y
}

// times is how often each filling is used.
func (p *tableau) times() []float64 {
	x := make([]float64, len(p.price))
	for i, v := range p.basic {
		if v < len(p.price) {
			x[v] = p.rhs[i]
		}
	}
	return x
}

// bound is what no plan of the fillings can cost less than, in parts of a cent. It
// holds for any prices of rows, however they were come by: with them every filling
// costs at least what its part of the rows is worth, and where one costs less, it
// counts as often as it may be used. It is reckoned in whole numbers; where they
// would be too large, nothing is claimed.
func (p *tableau) bound(y []float64, scale int64) int64 {
	whole, sum, size := make([]int64, len(y)), int64(0), 0.0
	for r, v := range y {
		if v *= float64(scale); v > 1<<50 {
			return 0
		}
		whole[r] = int64(v)
		sum += whole[r] * p.rows[r].least
		most := math.Abs(float64(p.rows[r].least))
		for _, a := range p.rows[r].of {
			most = max(most, math.Abs(float64(a)))
		}
		size += v * most
	}
	p.spent += 2 * int64(len(p.price)*len(y))
	for j, cents := range p.price {
		if (size+float64(cents)*float64(scale))*float64(p.most[j]+1) > 1<<52 {
			return 0
		}
		left := cents * scale
		for r, v := range whole {
			if v != 0 {
				left -= v * p.rows[r].of[j]
			}
		}
		sum += min(left, 0) * p.most[j]
	}
	return max(sum, 0) // no plan costs less than nothing
}

// mostShares is the largest denominator that planes are reckoned with, and
// mostOf the largest coefficient.
const (
	mostShares = 3000
	mostOf     = 1_000_000
)

// plane makes a row that every plan keeps and the program's numbers do not, from a
// line whose number is not whole (Gomory 1958, Bulletin of the AMS 64:275; Chvatal
// 1973, Discrete Mathematics 4:305): the rows, so many parts of one denominator of
// each, are added up and every coefficient rounded up, and so may the least be, for
// fillings come in whole numbers. Of several multiples the one is taken that the
// numbers x of fillings fall short of most; by is how far they are cut off, nothing
// where they are not.
func (p *tableau) plane(line int, x []float64) (made row, by float64) {
	u := make([]float64, len(p.rows))
	for j, v := range p.other {
		if v >= len(p.price) {
			t := p.lines[line][j]
			u[v-len(p.price)] = t - math.Floor(t)
		}
	}
	parts := denominator(u)
	if parts == 0 {
		return row{}, 0
	}
	share, best, short := make([]int64, len(u)), int64(0), 1e-4
	for times := int64(1); times < min(parts, mostTimes); times++ {
		sum := p.shares(share, u, times, parts)
		under := float64(roundUp(sum, parts))
		for j, n := range x {
			if n == 0 {
				continue
			}
			sum := int64(0)
			for r, v := range share {
				sum += v * p.rows[r].of[j]
			}
			under -= float64(roundUp(sum, parts)) * n
		}
		if under > short {
			best, short = times, under
		}
	}
	if best == 0 {
		return row{}, 0
	}
	made = row{of: make([]int64, len(p.price)), plane: true}
	made.least = roundUp(p.shares(share, u, best, parts), parts)
	for r, v := range share {
		if v == 0 {
			continue
		}
		for j, a := range p.rows[r].of {
			made.of[j] += v * a
		}
		p.spent += int64(len(made.of))
	}
	norm, most := 0.0, int64(0)
	for j, sum := range made.of {
		a := roundUp(sum, parts)
		made.of[j], most = a, max(most, a, -a)
		norm += float64(a) * float64(a)
	}
	if p.spent += 8 * int64(len(made.of)); most > mostOf {
		return row{}, 0
	}
	return made, short / math.Sqrt(norm)
}

// mostTimes is how many multiples of a line are tried, and one more.
const mostTimes = 8

// shares is how many parts of each row so many times a line has, what is whole left
// out, and what the rows' leasts come to.
func (p *tableau) shares(share []int64, u []float64, times, parts int64) int64 {
	sum := int64(0)
	for r, v := range u {
		share[r] = int64(math.Round(v*float64(parts))) * times % parts
		sum += share[r] * p.rows[r].least
	}
	return sum
}

// denominator is the least number of parts of which all are whole numbers, or 0.
func denominator(u []float64) int64 {
	for d := int64(2); d <= mostShares; d++ {
		if !slices.ContainsFunc(u, func(v float64) bool {
			t := v * float64(d)
			return math.Abs(t-math.Round(t)) > 1e-6*float64(d)
		}) {
			return d
		}
	}
	return 0
}

// roundUp is a/b rounded up, for b above 0.
func roundUp(a, b int64) int64 {
	q := a / b
	if a%b > 0 {
		q++
	}
	return q
}

// drop takes out planes that do not bear on the program's least.
func (p *tableau) drop() {
	for r := len(p.rows) - 1; r >= 0; r-- {
		slack := len(p.price) + r
		line := slices.Index(p.basic, slack)
		if !p.rows[r].plane || line < 0 || p.rhs[line] < 1e-6 {
			continue
		}
		p.rows = slices.Delete(p.rows, r, r+1)
		p.basic, p.lines, p.rhs = slices.Delete(
			p.basic,
			line,
			line+1,
		), slices.Delete(
			p.lines,
			line,
			line+1,
		), slices.Delete(
			p.rhs,
			line,
			line+1,
		)
		for _, list := range [][]int{p.basic, p.other} {
			for i, v := range list {
				if v > slack {
					list[i]--
				}
			}
		}
	}
}
