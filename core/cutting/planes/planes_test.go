package planes

import (
	"bytes"
	"fmt"
	"math"
	"math/rand/v2"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strconv"
	"testing"
)

// someRows is a small program: rows to be covered, and now and then one that limits.
func someRows(r *rand.Rand) *Program {
	n := 2 + r.IntN(4)
	price, most := make([]int64, n), make([]int64, n)
	for j := range n {
		price[j], most[j] = int64(1+r.IntN(40)), int64(1+r.IntN(5))
	}
	p := New(price, most)
	some := func(a, sign int) []int64 {
		of := make([]int64, n)
		for j := range of {
			of[j] = int64(sign * r.IntN(a))
		}
		return of
	}
	for range 1 + r.IntN(4) {
		p.Add(Row{Of: some(5, 1), Least: int64(1 + r.IntN(9))})
	}
	if r.IntN(2) == 0 {
		p.Add(Row{Of: some(2, -1), Least: -int64(1 + r.IntN(4))})
	}
	for j := range n { // no filling more often than it is said to be needed
		of := make([]int64, n)
		of[j] = -1
		p.Add(Row{Of: of, Least: -most[j]})
	}
	return p
}

// eachWhole goes through all whole numbers of fillings that keep the rows.
func eachWhole(p *Program, rows []Row, do func(x []int64, cost int64)) {
	x := make([]int64, len(p.price))
	var walk func(j int)
	walk = func(j int) {
		if j < len(x) {
			for x[j] = 0; x[j] <= p.most[j]; x[j]++ {
				walk(j + 1)
			}
			return
		}
		cost := int64(0)
		for j, n := range x {
			cost += n * p.price[j]
		}
		for _, r := range rows {
			if sumOf(r, x) < float64(r.Least) {
				return
			}
		}
		do(x, cost)
	}
	walk(0)
}

func sumOf[T int64 | float64](r Row, x []T) float64 {
	sum := 0.0
	for j, n := range x {
		sum += float64(r.Of[j]) * float64(n)
	}
	return sum
}

// Against trying everything: a plane cuts off the numbers it is made from and no
// whole ones, round after round; no bound, from the program's prices of rows or from
// any, is over the least; what has no solution has none.
func TestPlanesKeepWholeNumbers(t *testing.T) {
	r := rand.New(rand.NewPCG(71, 71))
	planes, none, closed := 0, 0, 0
	for i := range 2000 {
		p := someRows(r)
		rows, least := p.Rows, int64(math.MaxInt64)
		eachWhole(p, rows, func(_ []int64, cost int64) { least = min(least, cost) })
		for range 6 {
			ray := p.Solve(math.Inf(1))
			if ray != nil {
				if none++; least < math.MaxInt64 {
					t.Fatalf("%d: nothing keeps the rows, yet %d does\n%+v", i, least, p)
				}
				break
			}
			for _, y := range [][]float64{p.Prices(), make([]float64, len(p.Rows))} {
				for k := range y {
					if y[k] == 0 {
						y[k] = float64(r.IntN(2) * r.IntN(30))
					}
				}
				if b := p.Bound(y, 1<<10); least < math.MaxInt64 && b > least<<10 {
					t.Fatalf("%d: bound %d/1024 from %v, the least is %d\n%+v", i, b, y, least, p)
				}
			}
			x := p.Times()
			if b := float64(p.Bound(p.Prices(), 1<<10)) / (1 << 10); math.Abs(b-p.Cost) > 1 {
				t.Fatalf("%d: the program's least is %v, its bound %v", i, p.Cost, b)
			}
			if math.Ceil(p.Cost-1e-6) == float64(least) {
				closed++
				break
			}
			var add []Row
			for line, v := range p.rhs {
				if math.Abs(v-math.Round(v)) < 1e-4 {
					continue
				}
				cut, by := p.plane(line, x)
				if by == 0 {
					continue
				}
				planes++
				add = append(add, cut)
				if over := sumOf(cut, x) - float64(cut.Least); over > -1e-5 {
					t.Fatalf("%d: %+v leaves %v, over by %v", i, cut, x, over)
				}
				eachWhole(p, rows, func(whole []int64, _ int64) {
					if sumOf(cut, whole) < float64(cut.Least) {
						t.Fatalf("%d: %+v cuts off %v\n%+v", i, cut, whole, p)
					}
				})
			}
			if p.drop(); len(add) == 0 {
				break
			}
			for _, cut := range add {
				p.Add(cut)
			}
		}
	}
	if planes < 1500 || none < 50 || closed < 1000 {
		t.Errorf("%d planes, %d without a solution, %d closed", planes, none, closed)
	}
}

// Numbers too large for whole numbers claim nothing rather than too much.
func TestBoundOfLargeNumbers(t *testing.T) {
	for _, p := range []*Program{
		{price: []int64{3}, most: []int64{1 << 40}, Rows: []Row{{Of: []int64{5}, Least: 10}}},
		{price: []int64{1 << 50}, most: []int64{4}, Rows: []Row{{Of: []int64{5}, Least: 10}}},
		{price: []int64{3}, most: []int64{4}, Rows: []Row{{Of: []int64{1 << 40}, Least: 10}}},
		{price: []int64{3}, most: []int64{4}, Rows: []Row{{Of: []int64{-1}, Least: -4}}},
		// the bound would be below nothing
	} {
		for _, y := range []float64{1e4, 1e12, 1e18} {
			if b := p.Bound([]float64{y}, 1<<16); b != 0 {
				t.Errorf("prices %v of rows, %+v: bound %d", y, p, b)
			}
		}
	}
}

// The dual simplex method beside glpsol's own (GNU Linear Programming Kit, Debian's
// glpk-utils): the same least, or none.
func TestProgramAgainstGLPK(t *testing.T) {
	if _, err := exec.LookPath("glpsol"); err != nil {
		t.Skip("glpsol is not installed: apt-get install glpk-utils")
	}
	r := rand.New(rand.NewPCG(73, 73))
	dir := t.TempDir()
	file, out := filepath.Join(dir, "p.lp"), filepath.Join(dir, "p.txt")
	none := 0
	for i := range 60 {
		p := someRows(r)
		var b bytes.Buffer
		fmt.Fprint(&b, "Minimize\n cost:")
		for j, cents := range p.price {
			fmt.Fprintf(&b, " + %d x%d", cents, j)
		}
		fmt.Fprint(&b, "\nSubject To\n")
		for _, r := range p.Rows {
			for j, a := range r.Of {
				fmt.Fprintf(&b, " %+d x%d", a, j)
			}
			fmt.Fprintf(&b, " >= %d\n", r.Least)
		}
		fmt.Fprint(&b, "End\n")
		if err := os.WriteFile(file, b.Bytes(), 0o644); err != nil {
			t.Fatal(err)
		}
		if raw, err := exec.Command("glpsol", "--lp", file, "--nopresol", "-o", out).CombinedOutput(); err != nil {
			t.Fatalf("glpsol: %v\n%s", err, raw)
		}
		raw, err := os.ReadFile(out)
		if err != nil {
			t.Fatal(err)
		}
		ray := p.Solve(math.Inf(1))
		if ray != nil {
			if none++; !bytes.Contains(raw, []byte("INFEASIBLE")) {
				t.Errorf("%d: no solution here, glpsol says\n%s", i, raw[:300])
			}
			continue
		}
		m := regexp.MustCompile(`Objective: +cost = ([0-9.e+]+)`).FindSubmatch(raw)
		if m == nil {
			t.Fatalf("%d: %v here, glpsol says\n%s", i, p.Cost, raw[:300])
		}
		if want, err := strconv.ParseFloat(string(m[1]), 64); err != nil || math.Abs(want-p.Cost) > 1e-4 {
			t.Errorf("%d: %v, glpsol has %s", i, p.Cost, m[1])
		}
	}
	if none == 0 || none > 40 {
		t.Errorf("%d of 60 without a solution", none)
	}
}
