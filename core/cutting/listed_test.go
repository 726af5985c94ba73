package cutting

import (
	"math"
	"math/rand/v2"
	"testing"

	"chamfer/core/money"
)

// begun is a search with its first plan and its first range.
func begun(q Request) (*tree, span) {
	q.Keep, q.Effort, q.RipKerf = 1, DefaultEffort, q.Kerf
	g := newGroup(q, "p")
	var st state
	for _, k := range g.kinds {
		st.want = append(st.want, k.want)
	}
	for _, s := range g.stock {
		st.most, st.least = append(st.most, s.Quantity), append(st.least, 0)
	}
	t := &tree{g: g, seen: map[string]money.Amount{}, cost: math.MaxInt64}
	t.offer(greedy(g, st))
	n := t.span(st, nil)
	g.listSums(t.cost)
	return t, n
}

// The search over listed fillings alone, against brute force: where all that are
// worth trying can be listed, it comes to the least and proves it.
func TestListedAgainstBruteForce(t *testing.T) {
	r := rand.New(rand.NewPCG(75, 75))
	listed := 0
	for i := range 1500 {
		q := random(r, 1+r.IntN(9))
		least := cheapest(q)
		s, n := begun(q)
		if least < 0 || len(s.g.unmet) > 0 || s.cost >= s.g.without || n.bound >= s.cost {
			continue
		}
		if _, ok := s.list(n.st, n.b); !ok {
			continue
		}
		listed++
		if s.byList(&n, DefaultEffort); s.cost != least || n.bound != least {
			t.Fatalf("%d: %v with bound %v, least is %v\n%+v", i, s.cost, n.bound, least, q)
		}
	}
	if listed < 150 {
		t.Errorf("listed %d times", listed)
	}
}

// A range of too few boards is not worth searching: its bound is no less than the
// best plan's price, however dear its pieces become.
func TestRangeOfTooFewBoards(t *testing.T) {
	r := rand.New(rand.NewPCG(77, 77))
	for i := range 60 {
		q := realistic(r, 40+r.IntN(200), 8, 3, 0)
		s, n := begun(q)
		st := n.st.copied()
		need, room := int64(0), int64(0)
		for k, kind := range s.g.kinds {
			need += kind.size * int64(st.want[k])
		}
		for at := range s.g.stock { // as many as use up the need, and then one fewer
			one := s.g.ways[at].runs[0].room
			st.most[at] = int((need - room) / one / int64(1+r.IntN(3)))
			room += one * int64(st.most[at])
		}
		if room >= need {
			t.Fatal("too many boards")
		}
		if b := s.span(st, n.cols); b.bound < s.cost {
			t.Errorf(
				"%d: boards of %d for pieces of %d: bound %v, the best plan costs %v",
				i,
				room,
				need,
				b.bound,
				s.cost,
			)
		}
	}
}
