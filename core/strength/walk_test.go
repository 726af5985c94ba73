package strength_test

import (
	"fmt"
	"math"
	"strings"
	"testing"

	"chamfer/core/builder"
	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/fixing"
	"chamfer/core/frame"
	"chamfer/core/strength"
	_ "chamfer/core/timber"
)

const (
	lb  = 4.448_222
	in3 = 1.0 / 1728 // ft³
)

// walked builds an American bed and follows its loads.
func walked(t *testing.T, edits ...string) ([]strength.Link, *frame.Frame) {
	t.Helper()
	cat, err := catalog.ForRegion("us")
	if err != nil {
		t.Fatal(err)
	}
	d := design.New(cat, "walked")
	for _, e := range edits {
		field, value, _ := strings.Cut(e, "=")
		if d, err = design.Apply(d, cat, design.Edit{Bed: "b1", Field: field, Value: value}); err != nil {
			t.Fatal(err)
		}
	}
	f, err := builder.Build(d.Beds[0], cat)
	if err != nil {
		t.Fatal(err)
	}
	f.Times = 1
	fixed := fixing.Choose([]frame.Frame{f}, cat, cat.Habits)
	return strength.Walk(strength.Input{Frame: &f, Catalog: cat, Fixed: fixed.ByJoint, On: d.Beds[0].On}), &f
}

// link finds the one of a path between two pieces, in some way.
func link(t *testing.T, links []strength.Link, path strength.Path, way strength.Way, from, to string) strength.Link {
	t.Helper()
	for _, l := range links {
		if l.Path == path && l.Way == way && l.From == "b1."+from && (l.To == "b1."+to || l.To == to) {
			return l
		}
	}
	t.Fatalf("no link %s > %s, %s", from, to, way)
	return strength.Link{}
}

func about(t *testing.T, what string, got, want, part float64) {
	t.Helper()
	if math.Abs(got-want) > part*math.Abs(want) {
		t.Errorf("%s: %.1f, by hand %.1f", what, got, want)
	}
}

// The planter that passed with a note: 96 x 36 in clear, 16 in of soil, 2x6 boards, 4x4 legs
// inside, no beam, usual screws. Soil, 100 lb/ft³: (96 x 36 - 4 x 3 1/2²) x 16 in, 3155 lb.
// Slats of 5 1/2 in, 15 of 36 in in the 89 in between the legs and at either end one of 3 1/2
// by 29: of 3173 sq in the 15 are 2970, so a side gets 1476 lb of soil. Cedar of 25.2 lb/ft³:
// half of the 15 slats 32 lb, the ledger 7, the board of 99 in 12. To a leg half of all that
// goes, 764 lb; two #10 screws through 1 1/2 in of cedar hold 86.6 lb each (NDS 2018 Table
// 12.3.1A mode IIIs) x 0.9 x 0.7. The board and the ledger bend as one over 95 1/2 in between
// the middles of the legs: 1515 lb on the 89 in where slats lie, M = 1515 (95.5/4 - 89/8) =
// 19.3 kip in, of which the board by its 20.8 of 26.2 in⁴ takes four fifths: 15.4 kip in over
// 7.56 in³ are 2030 psi, where cedar may have 700 x 1.3 x 0.9 = 819.
func TestPlanterOnLegsByHand(t *testing.T) {
	links, _ := walked(
		t,
		"system=legged",
		"board=2x6",
		"cap=none",
		"corners=sides-cover",
		"length=96 in",
		"width=36 in",
		"soil=16 in",
		"beams=0",
		"leg_screws=usual",
	)
	end := link(t, links, strength.OnFloor, strength.Across, "front.1", "leg.1")
	soil := (96*36 - 4*3.5*3.5) * 16 * in3 * 100.01
	cedar := 25.16 * in3
	want := (soil*2970/3173/2 + (15*5.5*1.5*36/2+1.5*3.5*89+1.5*5.5*99)*cedar) / 2
	about(t, "lowest board to leg, lb", end.Load/lb, want, 0.01)
	about(t, "two screws, lb", end.Holds/lb, 2*86.6*0.63, 0.01)
	bent := link(t, links, strength.OnFloor, strength.Bending, "front.1", "front.1")
	about(
		t,
		"the board's stress, of 819 psi",
		bent.Ratio(),
		1515*(95.5/4-89.0/8)*20.8/26.16/7.5625/819,
		0.05,
	) // what is between slats is not even
	if end.Ratio() < 6 || strength.Rules[end.Way].Source == "" || end.Load < end.Breaks {
		t.Errorf("%+v is not told to break", end)
	}
}

// A 4 ft x 4 ft table of 2x6 on 4x4 legs, 16 in of wet soil, stands in practice with its
// ledgers screwed every 6 in and fixed to the legs. By which path: each side takes half of
// 2080 lb of soil less what lies along the ends; of what comes to its end the block takes by
// its 9 screws and the board by its 5, so both are within what a code counts on, and four
// times that breaks them. With two screws a board and no block they would carry five times
// what a code counts on, past what breaks them: there code and practice agree.
func TestTableOfFourFeet(t *testing.T) {
	table := []string{"system=legged", "board=2x6", "cap=none", "length=48 in", "width=48 in", "soil=16 in", "beams=0"}
	links, f := walked(t, append(table, "ledger_ends=blocks")...)
	worst := 0.0
	for _, l := range links {
		if l.Path == strength.OnFloor && (l.Way == strength.Across || l.Way == strength.Crushing) {
			worst = max(worst, l.Ratio())
		}
	}
	if worst > 1 || worst < 0.5 {
		t.Errorf("with blocks the worst joint is at %.2f", worst)
	}
	board, block := link(
		t,
		links,
		strength.OnFloor,
		strength.Across,
		"front.1",
		"leg.1",
	), link(
		t,
		links,
		strength.OnFloor,
		strength.Across,
		"block.1",
		"leg.1",
	)
	about(t, "board and block share by what they hold", board.Ratio()/block.Ratio(), 1, 0.01)
	if board.Screws != 5 || block.Screws != 9 {
		t.Errorf("%d and %d screws", board.Screws, block.Screws)
	}
	down := 0.0
	for _, l := range links {
		if l.Path == strength.OnFloor && l.To == "ground" {
			down += l.Load
		}
	}
	cat, _ := catalog.ForRegion("us")
	about(t, "all of it on four legs, N", down, strength.Weight(strength.Weigh(f, cat).All()), 0.005)
	links, _ = walked(t, append(table, "leg_screws=usual")...)
	if alone := link(t, links, strength.OnFloor, strength.Across, "front.1", "leg.1"); alone.Load < alone.Breaks {
		t.Errorf("on two screws: %.0f N, and %.0f break them", alone.Load, alone.Breaks)
	}
}

// Ends of beams: two screws in end grain bear two thirds of 86.6 x 0.9 x 0.7 (NDS 12.5.2.2),
// 73 lb; with an angle bracket on either side four more in side grain through steel.
func TestBeamEndsByHand(t *testing.T) {
	beam := []string{"system=legged", "board=2x6", "cap=none", "length=48 in", "width=24 in", "soil=12 in", "beams=1"}
	links, _ := walked(t, beam...)
	end := link(t, links, strength.OnFloor, strength.Across, "beam.1", "ledger.left")
	about(t, "screws in end grain, lb", end.Holds/lb, 2*86.6*0.63*0.67, 0.01)
	if !end.EndGrain || end.Screws != 2 {
		t.Errorf("%+v", end)
	}
	links, _ = walked(t, append(beam, "beam_ends=brackets")...)
	both := 0.0
	for _, l := range links {
		if l.From == "b1.beam.1" && l.To == "b1.ledger.left" && l.Path == strength.OnFloor {
			both += l.Holds
		}
	}
	if both < 3*end.Holds {
		t.Errorf("with brackets %.0f N, without %.0f", both, end.Holds)
	}
}

// Casters: of four one is off the ground (common practice; REFERENCE G8.4), so each of the
// others carries a third of all.
func TestCastersByHand(t *testing.T) {
	links, f := walked(t, "system=legged", "casters=yes", "on=slab")
	cat, _ := catalog.ForRegion("us")
	all, n := strength.Weight(strength.Weigh(f, cat).All()), 0
	for _, l := range links {
		if l.Way == strength.Rolling && l.Path == strength.OnFloor {
			n++
			about(t, "a caster, N", l.Load, all/3, 0.06) // the narrower slat lies nearer one end
			about(t, "what it may carry, N", l.Holds, 80*9.80665, 1e-6)
		}
	}
	if n != 4 {
		t.Errorf("%d casters", n)
	}
}

// A trellis in wind: a boarded bed of 8 ft in 2x8, two courses, 14 1/2 in high, the trellis to
// 6 ft. Uprights of 1 1/2 in, at most 4 ft apart. 0.6 of 16 lb/ft² on half of what is in leaf
// (ASCE 7-16 29.7): 4.8 lb/ft² on 57 1/2 in by the width of a middle one. It bends at the rim:
// push x 28.75 in over 0.5625 in³, and cedar may have 700 x 1.5 x 1.6 flatwise as edgewise (no
// wet factor up to 1150 psi; NDS Table 4A). About its foot the push turns with 14 1/2 + 28 3/4
// in against screws at 3 5/8 and 10 7/8 in that take by their height.
func TestTrellisInWindByHand(t *testing.T) {
	links, f := walked(t, "length=96 in", "board=2x8", "soil=12 in", "cap=none", "trellis=wire", "trellis_height=72 in")
	var ups []float64
	for _, p := range f.Parts {
		if p.Kind == frame.TrellisPart && p.Grain == frame.Z {
			lo, _ := p.Body.Bounds()
			ups = append(ups, lo.X.Inches())
		}
	}
	wide := (ups[2] - ups[0]) / 2
	push := 4.8 * 57.5 * wide / 144
	bent := link(t, links, strength.Wind, strength.Bending, "trellis.2", "trellis.2")
	about(t, "push, lb", bent.Load/lb, push, 0.005)
	about(t, "stress of what it may have", bent.Ratio(), push*28.75/0.5625/(700*1.5*1.6), 0.01)
	turn := push * (14.5 + 28.75)
	top := link(t, links, strength.Wind, strength.Pulled, "trellis.2", "back.2")
	about(t, "the upper screws, lb", top.Load/lb, turn*10.875/(10.875*10.875+3.625*3.625), 0.01)
}

// On a deck a planter's legs bring what is on them to single places: by symmetry a quarter
// each, and the leg's end presses on the deck's wood.
func TestPlanterOnDeckByHand(t *testing.T) {
	links, f := walked(t, "system=legged", "on=deck")
	cat, _ := catalog.ForRegion("us")
	all := strength.Weight(strength.Weigh(f, cat).All())
	for i := range 4 {
		foot := link(t, links, strength.OnFloor, strength.Crushing, fmt.Sprintf("leg.%d", i+1), "deck")
		about(t, "a leg, N", foot.Load, all/4, 0.06)
	}
}

// Screws of a tie's cleat: 8 ft of 14 in of soil push with 110/3 x (14/12)²/2 = 24.95 lb a foot.
// A tie in the middle of a plain side takes 10/8 of half of it, and its cleats' screws hand it
// to the tie across their length.
func TestTieByHand(t *testing.T) {
	links, f := walked(t, "system=plain-box", "board=2x12", "length=96 in", "soil=10 in", "ties=1")
	w := f.Walls[0]
	long := (w.Supports[2] - w.Supports[0]).Inches() / 12
	push := 110.0 / 3 * (10.0 / 12) * (10.0 / 12) / 2
	got := link(t, links, strength.OnSide, strength.Across, "tie.1.cleat.front", "tie.1")
	about(t, "what a tie takes, lb", got.Load/lb, push*1.25*long/2, 0.06) // the cleat stands beside the middle
	if got.EndGrain {
		t.Error("a tie is counted on in end grain")
	}
}
