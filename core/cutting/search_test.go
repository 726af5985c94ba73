package cutting

import (
	"math/rand/v2"
	"testing"

	"chamfer/core/measure"
	"chamfer/core/money"
)

// searched solves a request by the linear program and its search alone, without
// the walk through everything that small jobs otherwise get.
func searched(r Request) (cost, bound money.Amount, fills []fill, g *group) {
	r.Keep, r.Effort, r.RipKerf = 300*measure.Millimetre, DefaultEffort, r.Kerf
	g = newGroup(r, r.Pieces[0].Profile)
	var st state
	for _, k := range g.kinds {
		st.want = append(st.want, k.want)
	}
	for _, s := range g.stock {
		st.most, st.least = append(st.most, s.Quantity), append(st.least, 0)
	}
	fills, cost, bound = g.search(st)
	return cost, bound, fills, g
}

// The search against brute force, on jobs small enough for it.
func TestSearchAgainstBruteForce(t *testing.T) {
	r := rand.New(rand.NewPCG(17, 17))
	for i := range 3000 {
		q := random(r, 1+r.IntN(9))
		want := cheapest(q)
		cost, bound, _, g := searched(q)
		if len(g.unmet) > 0 || want < 0 {
			if want >= 0 || len(g.unmet) == 0 && cost < g.without {
				t.Fatalf("%d: brute force finds %v, the search %v, %d too long\n%+v", i, want, cost, len(g.unmet), q)
			}
			continue
		}
		if cost != want || bound != want {
			t.Fatalf("%d: %v with bound %v, least is %v\n%+v", i, cost, bound, want, q)
		}
	}
}

// A plan of a job much like this one is where a short search starts: what comes of it
// holds, is no dearer than that plan where the job is the same, and where a size has
// changed is mostly as cheap as a long search from nothing, and never much dearer.
func TestLikeBefore(t *testing.T) {
	r := rand.New(rand.NewPCG(12, 5))
	same, all := 0, 0
	for n := range 60 {
		q := realistic(r, 20+r.IntN(40), 4+r.IntN(4), 4, 6)
		before, err := Solve(q)
		if err != nil {
			t.Fatal(err)
		}
		q.Like, q.Effort = before.Boards, 900_000
		again, err := Solve(q)
		if err != nil || again.Cost > before.Cost {
			t.Fatalf("case %d: %v, started from %v: %v", n, again.Cost, before.Cost, err)
		}
		q.Pieces[0].Length -= 2 * in
		quick, err := Solve(q)
		if err != nil {
			t.Fatal(err)
		}
		if err := check(q, quick); err != nil {
			t.Fatalf("case %d: %v", n, err)
		}
		q.Like, q.Effort = nil, 0
		whole, err := Solve(q)
		if err != nil {
			t.Fatal(err)
		}
		if all++; quick.Cost == whole.Cost {
			same++
		}
		if 100*(quick.Cost-whole.Cost) > 5*whole.Cost {
			t.Errorf("case %d: %v, a long search %v", n, quick.Cost, whole.Cost)
		}
		if quick.Cost < whole.LowerBound {
			t.Errorf("case %d: %v is under the bound %v", n, quick.Cost, whole.LowerBound)
		}
	}
	if 4*same < 3*all {
		t.Errorf("%d of %d are as cheap", same, all)
	}
}

// What a longer search comes to answers its job from then on, and no other; it may be
// stopped, is never dearer than what there was, and comes back from how it is kept.
func TestLonger(t *testing.T) {
	r := rand.New(rand.NewPCG(19, 19))
	cheaper, ended := 0, 0
	for n := range 12 {
		q := realistic(r, 120, 14, 5, 6)
		q.Effort = 200_000
		var m Memo
		before, err := m.Solve(q)
		if err != nil {
			t.Fatal(err)
		}
		long := q
		long.Effort, long.Like = DefaultEffort/2, before.Boards
		stop := make(chan struct{})
		if long.Stop = stop; n%4 == 3 {
			close(stop)
		}
		f, err := m.Longer(long)
		if err != nil || f.Answer.Cost > before.Cost || f.Answer.LowerBound < before.LowerBound ||
			f.Ended == (n%4 == 3) {
			t.Fatalf(
				"%d: %v..%v from %v..%v, ended %v: %v",
				n,
				f.Answer.LowerBound,
				f.Answer.Cost,
				before.LowerBound,
				before.Cost,
				f.Ended,
				err,
			)
		}
		if f.Answer.Cost < before.Cost {
			cheaper++
		}
		if f.Answer.Proved {
			ended++
		}
		raw, err := f.MarshalBinary()
		if err != nil {
			t.Fatal(err)
		}
		var back Found
		if err := back.UnmarshalBinary(raw); err != nil {
			t.Fatal(err)
		}
		var other Memo // of a program that is started anew
		other.Recall(back)
		q.Pieces[0].ID = "another letter"
		for name, m := range map[string]*Memo{"here": &m, "kept": &other} {
			a, err := m.Solve(q)
			if err == nil {
				err = check(q, a)
			}
			if err != nil || a.Cost != f.Answer.Cost || a.LowerBound != f.Answer.LowerBound ||
				a.Proved != f.Answer.Proved {
				t.Fatalf(
					"%d, %s: %v..%v, found %v..%v: %v",
					n,
					name,
					a.LowerBound,
					a.Cost,
					f.Answer.LowerBound,
					f.Answer.Cost,
					err,
				)
			}
		}
		if worse := other.Recall(Found{Job: q.Job(), Answer: before}); worse.Answer.Cost != f.Answer.Cost ||
			worse.Answer.LowerBound != f.Answer.LowerBound {
			t.Errorf("%d: %v after %v", n, worse.Answer.Cost, f.Answer.Cost)
		}
		q.Pieces[0].Quantity++
		if _, ok := m.Searched(q); ok {
			t.Errorf("%d: another job is answered", n)
		}
	}
	if cheaper == 0 || ended == 0 {
		t.Errorf("%d are cheaper, %d proved", cheaper, ended)
	}
	if err := new(Found).UnmarshalBinary([]byte("no finding")); err == nil {
		t.Error("rubbish is read")
	}
}
