package cutting

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"testing"

	"chamfer/core/measure"
	"chamfer/core/money"
)

// checkJoins validates an answer with joined pieces: every joint where it may be,
// and the parts, as pieces in their own right, by the rules for pieces.
func checkJoins(r Request, a Answer) error {
	parts := r
	parts.Pieces = nil
	wanted := map[string]int{}
	lines := map[string]Piece{}
	walls := map[string][]Joined{}
	joints := money.Amount(0)
	for _, p := range r.Pieces {
		lines[p.ID] = p
		if p.Join == nil {
			parts.Pieces = append(parts.Pieces, p)
		}
	}
	copies := map[string]int{}
	name := func(id string, part int, l measure.Length) string { return fmt.Sprintf("%s#%d#%v", id, part, l) }
	for _, j := range a.Joined {
		p := lines[j.Piece]
		copies[j.Piece]++
		joints += p.Join.Cost * money.Amount(len(j.Joints))
		if p.Join.Wall != "" {
			wall := fmt.Sprint(p.Join.Wall, copies[j.Piece])
			walls[wall] = append(walls[wall], j)
		}
		from := measure.Length(0)
		for k, at := range append(slices.Clone(j.Joints), p.Length) {
			if len(j.Joints) > 0 && at-from < p.Join.Least {
				return fmt.Errorf("%s: a part of %v", j.Piece, at-from)
			}
			if step := p.Join.Step; step > 0 && at < p.Length && at%step != 0 {
				return fmt.Errorf("%s: a joint at %v, not at whole steps of %v", j.Piece, at, step)
			}
			for _, c := range p.Join.Clear {
				if at < p.Length && at > c.From && at < c.To {
					return fmt.Errorf("%s: a joint at %v, on a post from %v to %v", j.Piece, at, c.From, c.To)
				}
			}
			part := k + 1
			if len(j.Joints) == 0 {
				part = 0
			}
			id := name(j.Piece, part, at-from)
			if wanted[id]++; wanted[id] == 1 {
				parts.Pieces = append(parts.Pieces, Piece{ID: id, Profile: p.Profile, Length: at - from})
			}
			from = at
		}
	}
	for _, list := range walls {
		for _, one := range list {
			for _, two := range list {
				p, q := lines[one.Piece].Join, lines[two.Piece].Join
				if q.Course-p.Course != 1 {
					continue
				}
				for _, x := range one.Joints {
					for _, y := range two.Joints {
						if max(x-y, y-x) < max(p.Apart, q.Apart) {
							return fmt.Errorf("joints at %v and %v in neighbouring courses", x, y)
						}
					}
				}
			}
		}
	}
	as := a
	as.Boards, as.Unmet = nil, nil
	for _, b := range a.Boards {
		b.Cuts = slices.Clone(b.Cuts)
		for i, c := range b.Cuts {
			if lines[c.Piece].Join != nil {
				b.Cuts[i].Piece = name(c.Piece, c.Part, c.Length)
			}
		}
		as.Boards = append(as.Boards, b)
	}
	for i, p := range parts.Pieces {
		if n := wanted[p.ID]; n > 0 {
			parts.Pieces[i].Quantity = n
		}
	}
	for _, u := range a.Unmet {
		if copies[u.Piece] += u.Quantity; lines[u.Piece].Join == nil {
			as.Unmet = append(as.Unmet, u)
		}
	}
	for _, p := range r.Pieces {
		if p.Join != nil && copies[p.ID] != p.Quantity {
			return fmt.Errorf("%s: %d joined or unmet, want %d", p.ID, copies[p.ID], p.Quantity)
		}
	}
	as.Cost -= joints
	as.LowerBound = min(as.LowerBound, as.Cost)
	as.Proved = as.Cost == as.LowerBound
	if a.LowerBound > a.Cost || a.Proved != (a.LowerBound == a.Cost) {
		return fmt.Errorf("cost %v, bound %v, proved %v", a.Cost, a.LowerBound, a.Proved)
	}
	return check(parts, as)
}

// By hand: a side of 96 in with posts at both ends and in the middle. Leftovers of
// 60 and 37 in make it with one joint at 60 in: 60 and 36. An 8 ft board costs 11.40,
// two plates and eight screws 3.20; the joint is the cheaper.
func TestJoinByHand(t *testing.T) {
	side := Piece{ID: "side", Profile: "2x6", Length: 96 * in, Quantity: 1, Join: &Join{Least: 10 * in, Cost: 320,
		Clear: []Span{{0, 8 * in}, {42 * in, 54 * in}, {88 * in, 96 * in}}}}
	r := Request{Kerf: in / 8, Pieces: []Piece{side}, Stock: []Stock{
		{ID: "8", Profile: "2x6", Length: 96 * in, Price: 1140, Quantity: Unlimited},
		{ID: "60", Profile: "2x6", Length: 60 * in, Quantity: 1},
		{ID: "37", Profile: "2x6", Length: 37 * in, Quantity: 1}}}
	a, err := Solve(r)
	if err != nil || checkJoins(r, a) != nil {
		t.Fatal(err, checkJoins(r, a))
	}
	if a.Cost != 320 || len(a.Joined[0].Joints) != 1 {
		t.Errorf("cost %v, joined %v", a.Cost, a.Joined)
	}
	// Dearer than a board, it is not joined.
	side.Join.Cost = 1200
	if a, _ = Solve(r); a.Cost != 1140 || len(a.Joined[0].Joints) != 0 || !a.Proved && a.LowerBound > a.Cost {
		t.Errorf("cost %v, joined %v", a.Cost, a.Joined)
	}
	// A second course may not be joined within 12 in of the first's joint.
	above := side
	above.ID, side.Join.Cost = "above", 10
	first, second := *side.Join, *side.Join
	first.Wall, second.Wall, second.Course = "back", "back", 1
	first.Apart, second.Apart = 12*in, 12*in
	side.Join, above.Join = &first, &second
	r.Pieces = []Piece{side, above}
	r.Stock[1].Quantity, r.Stock[2].Quantity = 2, 2
	if a, err = Solve(r); err != nil || checkJoins(r, a) != nil || a.Cost != 20 {
		t.Errorf("%v %v: cost %v, joined %v", err, checkJoins(r, a), a.Cost, a.Joined) // 60 + 36 and 36 + 60
	}
}

// grid is the least cost with joints at multiples of a step, by trying them all;
// whole lengths of the step and a saw that eats nothing make that the least there
// is.
func grid(r Request, step measure.Length) money.Amount {
	best := money.Amount(-1)
	var try func(i int, q Request, joints money.Amount)
	try = func(i int, q Request, joints money.Amount) {
		if i == len(r.Pieces) {
			if c := cheapest(q); c >= 0 && (best < 0 || c+joints < best) {
				best = c + joints
			}
			return
		}
		p := r.Pieces[i]
		j := p.Join
		p.Join = nil
		var split func(from measure.Length, q Request, joints money.Amount)
		split = func(from measure.Length, q Request, joints money.Amount) {
			last := p
			last.Length = p.Length - from
			whole := q
			whole.Pieces = append(slices.Clone(q.Pieces), last)
			try(i+1, whole, joints)
			for at := from + step; j != nil && at < p.Length; at += step {
				on := slices.ContainsFunc(j.Clear, func(c Span) bool { return at > c.From && at < c.To })
				if on || at-from < j.Least || p.Length-at < j.Least {
					continue
				}
				part := p
				part.Length = at - from
				next := q
				next.Pieces = append(slices.Clone(q.Pieces), part)
				split(at, next, joints+j.Cost)
			}
		}
		split(0, q, joints)
	}
	q := r
	q.Pieces = nil
	try(0, q, 0)
	return best
}

func joinable(r *rand.Rand, lines, most int, step measure.Length, kerf measure.Length) Request {
	q := Request{Kerf: kerf}
	for i := range 1 + r.IntN(3) {
		q.Stock = append(
			q.Stock,
			Stock{
				ID:       fmt.Sprint("s", i),
				Profile:  "p",
				Length:   step * measure.Length(6+r.IntN(8)),
				Price:    money.Amount(300 + r.IntN(900)),
				Quantity: Unlimited,
			},
		)
	}
	for i := range r.IntN(4) {
		q.Stock = append(
			q.Stock,
			Stock{
				ID:       fmt.Sprint("o", i),
				Profile:  "p",
				Length:   step * measure.Length(2+r.IntN(6)),
				Quantity: 1 + r.IntN(2),
			},
		)
	}
	for i := range lines {
		p := Piece{
			ID:       fmt.Sprint("p", i),
			Profile:  "p",
			Length:   step * measure.Length(2+r.IntN(10)),
			Quantity: 1 + r.IntN(most),
		}
		if i == 0 || r.IntN(2) == 0 {
			p.Join = &Join{
				Least: 2 * step,
				Step:  measure.Length(r.IntN(2)) * measure.Millimetre,
				Cost:  money.Amount(r.IntN(300)),
			}
			if r.IntN(2) == 0 {
				mid := p.Length / 2 / step * step
				p.Join.Clear = []Span{{mid - step, mid + step}}
			}
			if most > 1 && r.IntN(2) == 0 {
				p.Join.Wall, p.Join.Course, p.Join.Apart = "w", i, step
			}
		}
		q.Pieces = append(q.Pieces, p)
	}
	return q
}

func TestJoinsAgainstBruteForce(t *testing.T) {
	const step = 100 * measure.Millimetre
	r := rand.New(rand.NewPCG(41, 7))
	least, all := 0, 0
	for n := range 150 {
		q := joinable(r, 2, 1, step, 0)
		want := grid(q, step)
		a, err := Solve(q)
		if err != nil {
			t.Fatal(err)
		}
		if err := checkJoins(q, a); err != nil {
			t.Fatalf("case %d: %v\n%+v\n%+v", n, err, q, a)
		}
		if want < 0 || len(a.Unmet) > 0 {
			if want >= 0 {
				t.Errorf("case %d: unmet, and %v would do\n%+v", n, want, q)
			}
			continue
		}
		if all++; a.Cost == want {
			least++
		}
		if a.Cost != want {
			t.Logf("case %d: %v, want %v", n, a.Cost, want)
			for _, p := range q.Pieces {
				t.Logf("%+v %+v", p, p.Join)
			}
			for _, s := range q.Stock {
				t.Log(s.Length, s.Price, s.Quantity)
			}
			t.Logf("%+v", a.Joined)
		}
		if a.Cost < want || a.LowerBound > want {
			t.Errorf("case %d: cost %v, bound %v, the least is %v\n%+v\n%+v", n, a.Cost, a.LowerBound, want, q, a)
		}
	}
	if 100*least < 97*all {
		t.Errorf("%d of %d are the least", least, all)
	}
	t.Logf("%d of %d are the least", least, all)
}

func TestJoinsHold(t *testing.T) {
	r := rand.New(rand.NewPCG(8, 3))
	for n := range 36 {
		q := joinable(r, 2+r.IntN(4), 4, 251*measure.Millimetre, measure.Length(r.IntN(5))*measure.Millimetre)
		if n%3 == 0 {
			q.Stock[0].Quantity = 1 + r.IntN(3) // it may run out
		}
		a, err := Solve(q)
		if err != nil {
			t.Fatal(err)
		}
		if err := checkJoins(q, a); err != nil {
			t.Fatalf("case %d: %v\n%+v\n%+v", n, err, q, a)
		}
	}
}
