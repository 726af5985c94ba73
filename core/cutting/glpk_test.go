package cutting

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

	"chamfer/core/measure"
	"chamfer/core/money"
)

// patterns lists every way to cut a length into the pieces of a request, no
// piece more often than it is wanted: plain recursion, nothing of the solver's.
func patterns(r Request, usable measure.Length) [][]int {
	var list [][]int
	takes := make([]int, len(r.Pieces))
	var walk func(i int, room measure.Length)
	walk = func(i int, room measure.Length) {
		if i == len(r.Pieces) {
			list = append(list, append([]int(nil), takes...))
			return
		}
		for n := 0; n <= r.Pieces[i].Quantity && measure.Length(n)*(r.Pieces[i].Length+r.Kerf) <= room; n++ {
			takes[i] = n
			walk(i+1, room-measure.Length(n)*(r.Pieces[i].Length+r.Kerf))
		}
		takes[i] = 0
	}
	walk(0, usable+r.Kerf)
	return list[1:] // the first is the empty one
}

// program writes a request as an integer program over its patterns, in CPLEX LP
// format.
func program(r Request) []byte {
	var object, bounds bytes.Buffer
	cover := make([]bytes.Buffer, len(r.Pieces))
	supply := make([]bytes.Buffer, len(r.Stock))
	for s, st := range r.Stock {
		for p, takes := range patterns(r, st.Usable()) {
			x := fmt.Sprintf("x%d_%d", s, p)
			fmt.Fprintf(&object, " + %d %s\n", st.Price, x)
			fmt.Fprintf(&supply[s], " + %s\n", x)
			for i, n := range takes {
				if n > 0 {
					fmt.Fprintf(&cover[i], " + %d %s\n", n, x)
				}
			}
			fmt.Fprintf(&bounds, " %s\n", x)
		}
	}
	var b bytes.Buffer
	fmt.Fprintf(&b, "Minimize\n cost:\n%s + 0 zero\nSubject To\n", object.Bytes())
	for i, p := range r.Pieces {
		fmt.Fprintf(&b, " c%d:\n%s + 0 zero >= %d\n", i, cover[i].Bytes(), p.Quantity)
	}
	for s, st := range r.Stock {
		if st.Quantity != Unlimited && supply[s].Len() > 0 {
			fmt.Fprintf(&b, " s%d:\n%s <= %d\n", s, supply[s].Bytes(), st.Quantity)
		}
	}
	fmt.Fprintf(&b, "General\n%sEnd\n", bounds.Bytes())
	return b.Bytes()
}

// glpk solves a request with the GNU Linear Programming Kit's glpsol (Debian's
// glpk-utils), and says whether it was proved in
// five seconds; -1 where nothing can be cut.
func glpk(t *testing.T, r Request) (cost money.Amount, proved bool) {
	t.Helper()
	dir := t.TempDir()
	file, out := filepath.Join(dir, "cut.lp"), filepath.Join(dir, "cut.txt")
	if err := os.WriteFile(file, program(r), 0o644); err != nil {
		t.Fatal(err)
	}
	if raw, err := exec.Command("glpsol", "--lp", file, "-o", out, "--tmlim", "5").CombinedOutput(); err != nil {
		t.Fatalf("glpsol: %v\n%s", err, raw)
	}
	raw, err := os.ReadFile(out)
	if err != nil {
		t.Fatal(err)
	}
	if bytes.Contains(raw, []byte("INTEGER EMPTY")) || bytes.Contains(raw, []byte("INTEGER UNDEFINED")) ||
		bytes.Contains(raw, []byte("INFEASIBLE")) {
		return -1, true
	}
	m := regexp.MustCompile(`Objective: +cost = ([0-9.e+]+)`).FindSubmatch(raw)
	proved = bytes.Contains(raw, []byte("INTEGER OPTIMAL"))
	if m == nil || !proved && !bytes.Contains(raw, []byte("INTEGER NON-OPTIMAL")) {
		t.Fatalf("glpsol says\n%s", raw[:min(len(raw), 600)])
	}
	v, err := strconv.ParseFloat(string(m[1]), 64)
	if err != nil {
		t.Fatal(err)
	}
	return money.Amount(math.Round(v)), proved
}

// The same jobs through a general solver: equal least prices on all of them.
func TestAgainstGLPK(t *testing.T) {
	if _, err := exec.LookPath("glpsol"); err != nil {
		t.Skip("glpsol is not installed: apt-get install glpk-utils")
	}
	r := rand.New(rand.NewPCG(41, 41))
	compared := 0
	for i := range 80 {
		q := realistic(r, 4+r.IntN(24), 2+r.IntN(4), 1+r.IntN(4), r.IntN(4))
		for k := range q.Pieces { // long ones, so that the patterns can be listed
			q.Pieces[k].Length = min(q.Pieces[k].Length+20*in, 90*in)
		}
		a, err := Solve(q)
		if err == nil {
			err = check(q, a)
		}
		if err != nil {
			t.Fatalf("%d: %v", i, err)
		}
		want, proved := glpk(t, q)
		if len(a.Unmet) > 0 {
			if want >= 0 {
				t.Errorf("%d: glpsol finds %v, the solver leaves %v out\n%+v", i, want, a.Unmet, q)
			}
			continue
		}
		if !proved { // the general solver has not come to an end; its plan is no better
			if a.Cost > want {
				t.Errorf("%d: %v, glpsol found %v", i, a.Cost, want)
			}
			continue
		}
		compared++
		if a.Cost != want || !a.Proved {
			t.Errorf("%d: %v, proved %v; glpsol has %v\n%+v", i, a.Cost, a.Proved, want, q)
		}
	}
	if compared < 50 {
		t.Errorf("only %d jobs were compared", compared)
	}
}

// The same jobs by this solver and by the general one, whose time includes
// starting it and reading its files: an empty program shows how much that is.
func BenchmarkBesideGLPK(b *testing.B) {
	if _, err := exec.LookPath("glpsol"); err != nil {
		b.Skip("glpsol is not installed: apt-get install glpk-utils")
	}
	r := rand.New(rand.NewPCG(43, 43))
	var jobs []Request
	for range 20 {
		q := realistic(r, 16+r.IntN(9), 4, 3, 2)
		for k := range q.Pieces {
			q.Pieces[k].Length = min(q.Pieces[k].Length+20*in, 90*in)
		}
		jobs = append(jobs, q)
	}
	dir := b.TempDir()
	for i, q := range jobs {
		if err := os.WriteFile(filepath.Join(dir, fmt.Sprint(i)), program(q), 0o644); err != nil {
			b.Fatal(err)
		}
	}
	if err := os.WriteFile(filepath.Join(dir, "empty"),
		[]byte("Minimize\n c: + 0 x\nSubject To\n r: + 1 x >= 0\nEnd\n"), 0o644); err != nil {
		b.Fatal(err)
	}
	b.Run("this", func(b *testing.B) {
		for i := range b.N {
			if _, err := Solve(jobs[i%len(jobs)]); err != nil {
				b.Fatal(err)
			}
		}
	})
	for _, name := range []string{"glpsol", "glpsol-empty"} {
		b.Run(name, func(b *testing.B) {
			for i := range b.N {
				file := fmt.Sprint(i % len(jobs))
				if name != "glpsol" {
					file = "empty"
				}
				if err := exec.Command("glpsol", "--lp", filepath.Join(dir, file), "--tmlim", "20").Run(); err != nil {
					b.Fatal(err)
				}
			}
		})
	}
}
