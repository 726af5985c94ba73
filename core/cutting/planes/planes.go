// Package planes is a linear program over columns that are all listed: so many of each that
// every row's sum is no less than it has to be, for the least price. It is brought to its
// least by the dual simplex method, cut down to whole numbers by planes, and what it claims
// is reckoned again in whole numbers.
//
//	p := planes.New(price, most)
//	p.Add(planes.Row{Of: []int64{2, 1}, Least: 3})
//	if ray := p.Solve(limit); ray == nil {
//		x := p.Times()
//	}
package planes

import (
	"cmp"
	"math"
	"slices"
)

// Program is a program over fillings of boards, or whatever else its columns are.
//
//	           filling  filling  slack   (of every column one, none of it used)
//	filling  |    .        .       .   | so many of it
//	slack    |    .        .       .   | so much over
//	price    |    .        .       .   | of all
//
// Prices are not below nothing, so that it is brought to its least by the dual
// simplex method (Lemke 1954, Naval Research Logistics 1:36), from no fillings at
// all, and again after every row that is put in.
type Program struct {
	price []int64 // cents, of a filling
	most  []int64 // a plan need not use a filling more often
	Rows  []Row
	basic []int // the variable of each line: a filling or, after those, the slack of a row
	other []int // and of each column
	lines [][]float64
	rhs   []float64
	more  []float64 // what a plan costs more with one of each column's variable
	Cost  float64
	Spent int64 // work, in numbers gone through
}

// Row is a sum over fillings, coefficient times number, that is at least so much.
type Row struct {
	Of    []int64
	Least int64
	plane bool // put in to cut off what is not whole; it may be dropped
}

// New is a program without rows, of columns by their prices and how often each may be used.
func New(price, most []int64) *Program {
	p := &Program{price: price, most: most, other: make([]int, len(price)), more: make([]float64, len(price))}
	for j, cents := range price {
		p.other[j], p.more[j] = j, float64(cents)
	}
	return p
}

// Copied shares nothing with p.
func (p *Program) Copied() *Program {
	c := *p
	c.Rows, c.basic, c.other = slices.Clone(p.Rows), slices.Clone(p.basic), slices.Clone(p.other)
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

// Add puts in a row, with its slack in the basis.
func (p *Program) Add(r Row) {
	line, rhs := make([]float64, len(p.more)), -float64(r.Least)
	for j, v := range p.other {
		if v < len(p.price) {
			line[j] = -float64(r.Of[v])
		}
	}
	for i, v := range p.basic {
		if v >= len(p.price) || r.Of[v] == 0 {
			continue
		}
		a := float64(r.Of[v])
		rhs += a * p.rhs[i]
		for j, t := range p.lines[i] {
			line[j] += a * t
		}
		p.Spent += int64(len(line))
	}
	for j, t := range line {
		if math.Abs(t) < nothing {
			line[j] = 0 // but for rounding
		}
	}
	p.basic = append(p.basic, len(p.price)+len(p.Rows))
	p.Rows, p.lines, p.rhs = append(p.Rows, r), append(p.lines, line), append(p.rhs, rhs)
}

// Solve brings the program to its least, or until it costs more than a limit. Where
// nothing keeps all rows it returns how many times each row, added up, shows that.
func (p *Program) Solve(limit float64) (ray []float64) {
	for turns := 50 * (len(p.Rows) + 10); turns > 0 && p.Cost <= limit; turns-- {
		line, worst := -1, -short
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
			if t < -pivotal {
				if r := p.more[j] / -t; r < ratio-tie || r < ratio+tie && -t > size {
					col, ratio, size = j, r, -t
				}
			}
		}
		p.Spent += int64(len(p.more))
		if col < 0 {
			return p.ray(line)
		}
		p.pivot(line, col)
	}
	return nil
}

// ray reads off a line without a way out how many times each row shows it.
func (p *Program) ray(line int) []float64 {
	ray := make([]float64, len(p.Rows))
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
func (p *Program) pivot(line, col int) {
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
		p.Spent += int64(len(on))
	}
	a := p.more[col]
	p.more[col] = 0
	for j, t := range on {
		p.more[j] = max(0, p.more[j]-a*t)
	}
	p.Cost += a * p.rhs[line]
	p.Spent += 2 * int64(len(on))
	p.basic[line], p.other[col] = p.other[col], p.basic[line]
}

// Prices of the rows: what a plan costs more where a row has to come to one more.
func (p *Program) Prices() []float64 {
	y := make([]float64, len(p.Rows))
	for j, v := range p.other {
		if v >= len(p.price) {
			y[v-len(p.price)] = p.more[j]
		}
	}
	return y
}

// Times is how often each filling is used.
func (p *Program) Times() []float64 {
	x := make([]float64, len(p.price))
	for i, v := range p.basic {
		if v < len(p.price) {
			x[v] = p.rhs[i]
		}
	}
	return x
}

// Bound is what no plan of the fillings can cost less than, in parts of a cent. It
// holds for any prices of rows, however they were come by: with them every filling
// costs at least what its part of the rows is worth, and where one costs less, it
// counts as often as it may be used. It is reckoned in whole numbers; where they
// would be too large, nothing is claimed.
func (p *Program) Bound(y []float64, scale int64) int64 {
	whole, sum, size := make([]int64, len(y)), int64(0), 0.0
	for r, v := range y {
		if v *= float64(scale); v > 1<<50 {
			return 0
		}
		whole[r] = int64(v)
		sum += whole[r] * p.Rows[r].Least
		most := math.Abs(float64(p.Rows[r].Least))
		for _, a := range p.Rows[r].Of {
			most = max(most, math.Abs(float64(a)))
		}
		size += v * most
	}
	p.Spent += 2 * int64(len(p.price)*len(y))
	for j, cents := range p.price {
		if (size+float64(cents)*float64(scale))*float64(p.most[j]+1) > 1<<52 {
			return 0
		}
		left := cents * scale
		for r, v := range whole {
			if v != 0 {
				left -= v * p.Rows[r].Of[j]
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
func (p *Program) plane(line int, x []float64) (made Row, by float64) {
	u := make([]float64, len(p.Rows))
	for j, v := range p.other {
		if v >= len(p.price) {
			t := p.lines[line][j]
			u[v-len(p.price)] = t - math.Floor(t)
		}
	}
	parts := denominator(u)
	if parts == 0 {
		return Row{}, 0
	}
	share, best, far := make([]int64, len(u)), int64(0), cutsOff
	for times := int64(1); times < min(parts, mostTimes); times++ {
		sum := p.shares(share, u, times, parts)
		under := float64(RoundUp(sum, parts))
		for j, n := range x {
			if n == 0 {
				continue
			}
			sum := int64(0)
			for r, v := range share {
				sum += v * p.Rows[r].Of[j]
			}
			under -= float64(RoundUp(sum, parts)) * n
		}
		if under > far {
			best, far = times, under
		}
	}
	if best == 0 {
		return Row{}, 0
	}
	made = Row{Of: make([]int64, len(p.price)), plane: true}
	made.Least = RoundUp(p.shares(share, u, best, parts), parts)
	for r, v := range share {
		if v == 0 {
			continue
		}
		for j, a := range p.Rows[r].Of {
			made.Of[j] += v * a
		}
		p.Spent += int64(len(made.Of))
	}
	norm, most := 0.0, int64(0)
	for j, sum := range made.Of {
		a := RoundUp(sum, parts)
		made.Of[j], most = a, max(most, a, -a)
		norm += float64(a) * float64(a)
	}
	if p.Spent += 8 * int64(len(made.Of)); most > mostOf {
		return Row{}, 0
	}
	return made, far / math.Sqrt(norm)
}

// Tighten puts in so many planes at most, those first that cut off most, takes out those that
// do not bear any more, and reports whether there are any.
func (p *Program) Tighten(most int) bool {
	type made struct {
		row Row
		by  float64
	}
	var list []made
	x := p.Times()
	for i, v := range p.rhs {
		if math.Abs(v-math.Round(v)) > cutsOff {
			if r, by := p.plane(i, x); by > 0 {
				list = append(list, made{r, by})
			}
		}
	}
	slices.SortStableFunc(list, func(a, b made) int { return cmp.Compare(b.by, a.by) })
	p.drop()
	for _, m := range list[:min(len(list), most)] {
		p.Add(m.row)
	}
	return len(list) > 0
}

// Size is how many numbers it holds.
func (p *Program) Size() int { return len(p.lines) * len(p.more) }

// mostTimes is how many multiples of a line are tried, and one more.
const mostTimes = 8

// shares is how many parts of each row so many times a line has, what is whole left
// out, and what the rows' leasts come to.
func (p *Program) shares(share []int64, u []float64, times, parts int64) int64 {
	sum := int64(0)
	for r, v := range u {
		share[r] = int64(math.Round(v*float64(parts))) * times % parts
		sum += share[r] * p.Rows[r].Least
	}
	return sum
}

// denominator is the least number of parts of which all are whole numbers, or 0.
func denominator(u []float64) int64 {
	for d := int64(2); d <= mostShares; d++ {
		if !slices.ContainsFunc(u, func(v float64) bool {
			t := v * float64(d)
			return math.Abs(t-math.Round(t)) > whole*float64(d)
		}) {
			return d
		}
	}
	return 0
}

// RoundUp is a/b rounded up, for b above 0.
func RoundUp(a, b int64) int64 {
	q := a / b
	if a%b > 0 {
		q++
	}
	return q
}

// drop takes out planes that do not bear on the program's least.
func (p *Program) drop() {
	for r := len(p.Rows) - 1; r >= 0; r-- {
		slack := len(p.price) + r
		line := slices.Index(p.basic, slack)
		if !p.Rows[r].plane || line < 0 || p.rhs[line] < whole {
			continue
		}
		p.Rows = slices.Delete(p.Rows, r, r+1)
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
