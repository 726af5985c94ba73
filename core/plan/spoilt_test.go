package plan_test

import (
	"strconv"
	"testing"

	"chamfer/core/design"
	"chamfer/core/plan"
)

// One piece of every letter of every example is spoilt once all is cut: one more of just that is cut, from what is left
// or from a board that is bought, and nothing else is asked for; and once more.
func TestSpoilt(t *testing.T) {
	looked := 0
	for i, e := range design.Examples() {
		shop, err := plan.ShopFor([]string{"us", "metric"}[i%2])
		if err != nil {
			t.Fatal(err)
		}
		d, err := design.ExampleNamed(e.Name, shop.Catalog)
		if err != nil {
			t.Fatal(err)
		}
		p, err := plan.Make(d, shop)
		if err != nil {
			t.Fatal(err)
		}
		done := map[string]bool{}
		for k := range p.Frames {
			for _, part := range p.Frames[k].Parts {
				if done[part.Letter] {
					continue
				}
				done[part.Letter] = true
				looked++
				now := p
				for n := range 2 {
					edit, err := now.Spoilt(part.Letter)
					if err != nil {
						t.Fatalf("%s, %s: %v", e.Name, part.Letter, err)
					}
					d, err := design.Apply(now.Design, shop.Catalog, edit)
					if err != nil {
						t.Fatalf("%s, %s: %v", e.Name, part.Letter, err)
					}
					before := now
					if now, err = plan.Make(d, shop); err != nil {
						t.Fatalf("%s, %s: %v", e.Name, part.Letter, err)
					}
					cut, unmet := 0, 0
					for _, c := range now.Cuts {
						if c.Profile.ID != part.Profile || c.Species.ID != part.Species {
							continue
						}
						unmet += len(c.Answer.Unmet)
						for _, b := range c.Answer.Boards {
							for _, x := range b.Cuts {
								cut += b.Count * max(1, x.Out)
								if same := x.Length == part.CutLength() || x.Turned || x.Part > 0; !same {
									t.Errorf("%s: %s is spoilt, and %s of %s is cut again", e.Name, part.Letter, x.Piece, x.Length)
								}
							}
						}
					}
					if cut != n+1 && n == 0 || cut < 1 || unmet > 0 {
						t.Errorf("%s: %s is spoilt, and %d pieces are cut again, %d cannot", e.Name, part.Letter, cut, unmet)
					}
					if list, more := now.Instead(before); more < 0 || len(list) > 0 != (more > 0) {
						t.Errorf("%s: %s is spoilt, and that comes to %v for %v", e.Name, part.Letter, more, list)
					}
				}
			}
		}
	}
	if looked < 80 {
		t.Errorf("only %d pieces", looked)
	}
}

// Blocks that break are first the spares'; those beyond are bought, and each stands in the balance.
func TestBroken(t *testing.T) {
	shop, err := plan.ShopFor("us")
	if err != nil {
		t.Fatal(err)
	}
	d, err := design.ExampleNamed("block-wall", shop.Catalog)
	if err != nil {
		t.Fatal(err)
	}
	p, err := plan.Make(d, shop)
	if err != nil {
		t.Fatal(err)
	}
	u := p.Laying.Units[0]
	for _, broke := range []int{1, u.Spare, u.Spare + 3} {
		edit := design.Edit{Field: "broken:" + u.Unit.ID, Value: strconv.Itoa(broke)}
		d, err := design.Apply(p.Design, shop.Catalog, edit)
		if err != nil {
			t.Fatal(err)
		}
		q, err := plan.Make(d, shop)
		if err != nil {
			t.Fatal(err)
		}
		if got, want := q.Laying.Units[0].Buy-u.Buy, max(0, broke-u.Spare); got != want {
			t.Errorf("%d of %d spare broke: %d more to buy, not %d", broke, u.Spare, got, want)
		}
		for _, b := range q.Balance() {
			if b.Item == u.Unit.ID && (b.Left != 0 || b.Spare != int64(max(u.Spare, broke))) {
				t.Errorf("%d broke: %+v", broke, b)
			}
		}
	}
}

// Whoever counts on a board in ten to be spoilt buys so many more of the longest of each kind, rounded up; they are
// spare in the balance, and fetched with the others; all else stays.
func TestSpareBoards(t *testing.T) {
	for i, e := range design.Examples() {
		shop, err := plan.ShopFor([]string{"us", "metric"}[i%2])
		if err != nil {
			t.Fatal(err)
		}
		d, err := design.ExampleNamed(e.Name, shop.Catalog)
		if err != nil {
			t.Fatal(err)
		}
		plain, err := plan.Make(d, shop)
		if err != nil {
			t.Fatal(err)
		}
		shop.Habits.SpoiltPerMille = 100
		p, err := plan.Make(d, shop)
		if err != nil {
			t.Fatal(err)
		}
		want := int64(0)
		for _, c := range plain.Cuts {
			want += int64(c.Answer.Count()+9) / 10
		}
		var spare, more int64
		for k, b := range p.Balance() {
			was := plain.Balance()[k]
			if b.Item != was.Item || b.Used != was.Used || b.Left != was.Left {
				t.Errorf("%s: %+v, and without spares %+v", e.Name, b, was)
			}
			spare += b.Spare - was.Spare
		}
		list, _ := p.Instead(plain)
		for _, c := range list {
			more += int64(c.Now - c.Was)
		}
		if spare != want || more != want {
			t.Errorf("%s: %d boards to spare, %d more bought, want %d", e.Name, spare, more, want)
		}
	}
}

// With one board cut, and the others not yet, a spoilt piece of it is just that: the others are still to be cut.
func TestSpoiltHalfway(t *testing.T) {
	shop, err := plan.ShopFor("us")
	if err != nil {
		t.Fatal(err)
	}
	d, err := design.ExampleNamed("boarded", shop.Catalog)
	if err != nil {
		t.Fatal(err)
	}
	p, err := plan.Make(d, shop)
	if err != nil {
		t.Fatal(err)
	}
	board := p.Cuts[0].Answer.Boards[0]
	edit, err := p.AtSaw(0, 0, len(board.Cuts), 1, plan.Cut)
	if err != nil {
		t.Fatal(err)
	}
	if d, err = design.Apply(d, shop.Catalog, edit); err != nil {
		t.Fatal(err)
	}
	if p, err = plan.Make(d, shop); err != nil {
		t.Fatal(err)
	}
	if edit, err = p.Spoilt(board.Cuts[0].Piece); err != nil {
		t.Fatal(err)
	}
	if d, err = design.Apply(d, shop.Catalog, edit); err != nil {
		t.Fatal(err)
	}
	if len(d.Saw) != 1 || !d.Saw[0].Cuts[0].Waste {
		t.Errorf("one board was cut and a piece of it spoilt, and at the saw stand %+v", d.Saw)
	}
}
