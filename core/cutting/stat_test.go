package cutting

import (
	"fmt"
	"math/rand/v2"
	"os"
	"sort"
	"testing"
	"time"

	"chamfer/core/measure"
	"chamfer/core/money"
)

// realistic is a job as gardens have them: pieces in a few lengths, shop lengths
// with a price that does not quite follow the length, and a shed of leftovers.
func realistic(r *rand.Rand, pieces, lengths, shops, shed int) Request {
	q := Request{Kerf: in / 8}
	for i, feet := range r.Perm(9)[:shops] {
		l := measure.Length(6+2*feet) * 12 * in
		perFoot := 110 + r.IntN(40)
		q.Stock = append(q.Stock, Stock{ID: fmt.Sprint("s", i), Profile: "p", Length: l, Price: money.Amount(int64(l/(12*in))*int64(perFoot) + int64(r.IntN(60))), Quantity: Unlimited})
	}
	long := measure.Length(0)
	for _, s := range q.Stock {
		long = max(long, s.Length)
	}
	for i := range shed {
		q.Stock = append(q.Stock, Stock{ID: fmt.Sprint("shed", i), Profile: "p", Length: measure.Length(12*16+r.IntN(60*16)) * in / 16, Price: 0, Quantity: 1, TrimStart: in / 2})
	}
	for i := range lengths {
		n := pieces / lengths
		if i < pieces%lengths {
			n++
		}
		q.Pieces = append(q.Pieces, Piece{ID: fmt.Sprint(i), Profile: "p", Length: min(long, measure.Length(8*16+r.IntN(92*16))*in/16), Quantity: n})
	}
	return q
}

func triplets(r *rand.Rand, n int) Request {
	q := Request{Stock: []Stock{{ID: "b", Profile: "p", Length: 1000 * in, Price: 1, Quantity: Unlimited}}}
	add := func(l int) {
		for i := range q.Pieces {
			if q.Pieces[i].Length == measure.Length(l)*in {
				q.Pieces[i].Quantity++
				return
			}
		}
		q.Pieces = append(q.Pieces, Piece{ID: fmt.Sprint(l), Profile: "p", Length: measure.Length(l) * in, Quantity: 1})
	}
	for range n / 3 {
		a := 380 + r.IntN(111)
		b := 250 + r.IntN((1000-a)/2-250)
		add(a)
		add(b)
		add(1000 - a - b)
	}
	return q
}

func uniform(r *rand.Rand, n int) Request {
	q := Request{Stock: []Stock{{ID: "b", Profile: "p", Length: 150 * in, Price: 1, Quantity: Unlimited}}}
	count := map[int]int{}
	for range n {
		count[20+r.IntN(81)]++
	}
	for l := 20; l <= 100; l++ {
		if count[l] > 0 {
			q.Pieces = append(q.Pieces, Piece{ID: fmt.Sprint(l), Profile: "p", Length: measure.Length(l) * in, Quantity: count[l]})
		}
	}
	return q
}

func TestStat(t *testing.T) {
	if os.Getenv("STAT") == "" {
		t.Skip()
	}
	r := rand.New(rand.NewPCG(21, 21))
	run := func(name string, n int, make func() Request) {
		var ms []float64
		proved := 0
		gap := 0.0
		for i := range n {
			q := make()
			start := time.Now()
			a, err := Solve(q)
			d := time.Since(start).Seconds() * 1000
			ms = append(ms, d)
			if err == nil {
				err = check(q, a)
			}
			if err != nil {
				t.Fatalf("%s %d: %v", name, i, err)
			}
			if a.Proved {
				proved++
			} else {
				gap = max(gap, float64(a.Cost-a.LowerBound)/float64(max(a.Cost, 1)))
			}
		}
		sort.Float64s(ms)
		fmt.Printf("%-34s proved %d/%d median %.2f ms p95 %.1f max %.1f worst gap %.2f%%\n", name, proved, n, ms[n/2], ms[n*95/100], ms[n-1], gap*100)
	}
	run("realistic 40/5/5/15", 100, func() Request { return realistic(r, 5+r.IntN(36), 5, 5, 15) })
	run("realistic 40/10/5/15", 100, func() Request { return realistic(r, 10+r.IntN(31), 10, 5, 15) })
	run("realistic 40/20/5/15", 100, func() Request { return realistic(r, 20+r.IntN(21), 20, 5, 15) })
	run("realistic 40/8/5/0", 100, func() Request { return realistic(r, 8+r.IntN(33), 8, 5, 0) })
	run("batch 500/20/5/15", 20, func() Request { return realistic(r, 500, 20, 5, 15) })
	run("batch 500/20/5/0", 20, func() Request { return realistic(r, 500, 20, 5, 0) })
	run("triplet 60", 5, func() Request { return triplets(r, 60) })
	run("triplet 120", 5, func() Request { return triplets(r, 120) })
	run("triplet 249", 3, func() Request { return triplets(r, 249) })
	run("uniform 60", 5, func() Request { return uniform(r, 60) })
	run("uniform 120", 5, func() Request { return uniform(r, 120) })
	run("uniform 249", 5, func() Request { return uniform(r, 249) })
}
