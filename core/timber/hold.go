package timber

import (
	"fmt"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/fixing"
	"chamfer/core/frame"
	"chamfer/core/measure"
	"chamfer/core/strength"
)

// holdFields are the decisions of how a planter's floor is hung on its legs: the wet soil
// goes from slats to ledgers, from those to the lowest boards, and from the boards' ends to
// the legs.
//
//	 leg   board              leg   board
//	|   |=========           |   |=========
//	|:::|---------  ledger   |:::|---------
//	|:::|  screws            |---|
//	|   |                    |   |  block, under the ledger's end
var holdFields = []design.Field{
	{
		Key:     "leg_screws",
		Does:    []design.Deed{{For: design.HangsFloor, Value: "many", Words: "more screws at the legs"}},
		Label:   "Screws from the lowest boards to the legs",
		Stage:   design.AtFrame,
		Kind:    design.ChoiceField,
		Default: "many",
		Help:    "They carry the floor and the wet soil on it to the legs.",
		Offers: []design.Choice{
			{Value: "many", Label: "one for every inch (25 mm) of width", Note: "they carry the floor"},
			{Value: "usual", Label: "as in the boards above"}},
	},
	{
		Key: "ledger_screws",
		Does: []design.Deed{{For: design.HangsFloor, Value: "close",
			Words: "screws along the ledgers every 3 in (75 mm)"}},
		Label:   "Screws along the ledgers",
		Stage:   design.AtFrame,
		Kind:    design.ChoiceField,
		Default: "usual",
		Offers: []design.Choice{
			{Value: "usual", Label: "about every 6 in (150 mm)"},
			{Value: "close", Label: "about every 3 in (75 mm)", Note: "for deep soil: two rows, staggered"}},
	},
	{Key: "ledger_ends", Label: "Ledgers' ends", Stage: design.AtFrame, Kind: design.ChoiceField, Default: "walls",
		Does: []design.Deed{
			{For: design.HangsFloor, Value: "blocks", Words: "blocks under the ledgers' ends"},
			{For: design.FreesLegs, Value: "walls"}},
		Idle: func(b design.Bed) string {
			if b.Options["legs"] == legsOutside {
				return "legs outside the walls leave no room for blocks"
			}
			return ""
		},
		Help: "Blocks screwed to the legs take a part of the floor past the walls.",
		Offers: []design.Choice{
			{Value: "walls", Label: "held by the walls alone"},
			{Value: "blocks", Label: "on blocks on the legs", Note: "for legs inside the walls"}}},
	{
		Key:     "beams_run",
		Does:    []design.Deed{{For: design.TurnsBeams, Value: "across", Words: "beams from side to side"}},
		Label:   "Beams run",
		Stage:   design.AtFrame,
		Kind:    design.ChoiceField,
		Default: "lengthwise",
		Idle:    onlyLevel,
		Help:    "Under a level floor. Slats lie across them.",
		Offers: []design.Choice{
			{Value: "lengthwise", Label: "from end to end", Note: "slats across the width"},
			{Value: "across", Label: "from side to side", Note: "short beams, slats lengthwise: for long planters"}},
	},
	{
		Key:     "beam_ends",
		Does:    []design.Deed{{For: design.HangsBeams, Value: "brackets", Words: "brackets at the beams' ends"}},
		Label:   "Beams' ends",
		Stage:   design.AtFrame,
		Kind:    design.ChoiceField,
		Default: "screws",
		Idle:    onlyLevel,
		Help:    "Where there are beams. Screws into a beam's end stand in end grain and bear little.",
		Offers: []design.Choice{
			{Value: "screws", Label: "screws through the ledgers"},
			{Value: "brackets", Label: "and an angle bracket on either side", Note: "screwed in side grain"}},
	},
	{
		Key:     "mid_legs",
		Does:    []design.Deed{{For: design.AddsLegs}},
		Label:   "Legs between the corners, each long side",
		Stage:   design.AtFrame,
		Kind:    design.NumberField,
		Default: "0",
		Most:    3,
		Help:    "For legs outside the long sides: the sides span less, and each leg bears less.",
	},
}

// blockTall is how long a block under a ledger's end is: room for four screws one above the
// other, 250 mm or 10 in (common practice).
const blockTall = 250 * measure.Millimetre

// clearGround is what a block keeps clear of the ground, so that it is dry and hangs on its
// post: 20 mm (common practice).
const clearGround = 20 * measure.Millimetre

// checkHold refuses what does not go together.
func checkHold(b design.Bed, lift, intrude, rail measure.Length, p measure.Precision, refuse design.Refuse) {
	outside := b.Options["legs"] == legsOutside
	if b.Options["ledger_ends"] == "blocks" {
		switch {
		case outside || intrude < rail:
			refuse(
				"ledger_ends",
				"these legs leave no face inside for a block; legs inside the corners work, or held by the walls alone",
			)
		case lift < blockTall:
			refuse(
				"ledger_ends",
				"below the walls there are %s of leg, and a block takes %s; held by the walls alone works",
				p.Feet(lift),
				p.Feet(blockTall),
			)
		}
	}
	if n, ok := b.OptionCount("mid_legs"); ok && n > 0 && !outside {
		refuse(
			"mid_legs",
			"inside the walls they would stand where the ledgers go: legs outside the long sides work, or none between",
		)
	}
}

// carriedByLegs fixes the lowest boards to the legs with as many screws as carry a floor.
// Ledgers take theirs closer where that was asked for.
func (f *floored) carriedByLegs() {
	for i := range f.f.Joints {
		j := &f.f.Joints[i]
		if j.Kind == frame.WallLedger && f.bed.Options["ledger_screws"] == "close" {
			j.Close = 2
		}
		if f.bed.Options["leg_screws"] == "usual" {
			continue
		}
		board, _ := f.f.Part(j.Parts[0])
		if leg, _ := f.f.Part(j.Parts[1]); j.Kind == frame.FaceToPost && board.Course == 1 && leg.Kind == frame.Leg {
			j.Kind, j.Load = frame.CarryToPost, "the floor and the wet soil on it, and its push"
		}
	}
}

// holds is what a joint's screws in a piece of a profile are good for across their length,
// N, for years in the wet.
func (b *box) holds(j frame.Joint, into catalog.Profile) float64 {
	far := b.part(into, "", "")
	far.ID, j.ID, j.Parts = "far", "j", [2]string{"near", "far"}
	f := frame.Frame{Times: 1, Parts: []frame.Part{far}, Joints: []frame.Joint{j}}
	x, ok := fixing.Choose([]frame.Frame{f}, b.cat, b.cat.Habits).ByJoint["j"]
	if !ok {
		return 0
	}
	return strength.Held(j, x, &f, b.cat).Across() * float64(x.Count)
}

// blocks sets one under each end of every ledger, against the leg there.
func (f *floored) blocks() {
	if f.bed.Options["ledger_ends"] != "blocks" {
		return
	}
	thick := f.rail.Thickness
	var ids []string
	for _, id := range []string{f.ledgerY[0], f.ledgerY[1], f.ledgerX[0], f.ledgerX[1]} {
		ledger, _ := f.f.Part(id)
		lo, hi := ledger.Body.Bounds()
		for _, leg := range f.f.Parts {
			a, b := leg.Body.Bounds()
			if leg.Kind != frame.Leg {
				continue
			}
			from, to := frame.Spot{U: lo.X, V: lo.Y}, frame.Spot{U: hi.X, V: hi.Y}
			switch { // the ledger's end meets the leg's face; the block lies inside the wall too
			case ledger.Grain == frame.X && lo.Y < b.Y && hi.Y > a.Y && (b.X == lo.X || a.X == hi.X):
				from.V, to.V = inward(lo.Y, hi.Y, a.Y, b.Y, f.rail.Width, f.outWidth)
				if b.X == lo.X {
					to.U = lo.X + thick
				} else {
					from.U = hi.X - thick
				}
			case ledger.Grain == frame.Y && lo.X < b.X && hi.X > a.X && (b.Y == lo.Y || a.Y == hi.Y):
				from.U, to.U = inward(lo.X, hi.X, a.X, b.X, f.rail.Width, f.outLength)
				if b.Y == lo.Y {
					to.V = lo.Y + thick
				} else {
					from.V = hi.Y - thick
				}
			default:
				continue
			}
			p := f.part(f.rail, frame.Block, fmt.Sprintf("block %d, under the %s", len(ids)+1, ledger.Role))
			p.ID, p.Grain, p.Hidden, p.Length = f.id("block.%d", len(ids)+1), frame.Z, true, blockTall
			p.Width = max(to.U-from.U, to.V-from.V)
			p.Body = frame.Prism{Axis: frame.Z, From: f.lift - blockTall, To: f.lift, Outline: rectangle(from, to)}
			f.f.Parts = append(f.f.Parts, p)
			ids = append(ids, p.ID)
			at, _, _ := contact(p.Body, leg.Body)
			f.f.Joints = append(
				f.f.Joints,
				frame.Joint{ID: p.ID + "+" + leg.ID, Kind: frame.CarryToPost, Parts: [2]string{p.ID, leg.ID},
					Through: thick, Into: f.leg.Width, Run: blockTall, At: at,
					Load: "its share of the floor and the wet soil on it"},
			)
		}
	}
	f.f.Acts = append(
		f.f.Acts,
		frame.Act{
			Verb:  frame.MakeUp,
			Of:    "blocks",
			Title: "Set the blocks under the ledgers",
			Where: "on the legs' inner faces, tight under the ledgers' ends",
			Parts: ids,
			Note: "Push each one up hard before the first screw: a block with a gap above it carries nothing until" +
				" the rest has given.",
		},
	)
}

// inward is how far a block reaches across the leg's face from the ledger's outer face: its
// own width, or to the face's edge.
func inward(lo, hi, legLo, legHi, wide, all measure.Length) (from, to measure.Length) {
	if lo < all/2 {
		return lo, min(legHi, lo+wide)
	}
	return max(legLo, hi-wide), hi
}

// bracketed fixes the beams' ends with an angle bracket on either side as well.
func (f *floored) bracketed() error {
	if f.bed.Options["beam_ends"] != "brackets" || len(f.beams) == 0 {
		return nil
	}
	if _, err := f.cat.Fitting("bracket"); err != nil {
		return fmt.Errorf("brackets: %w", err)
	}
	var list []frame.Joint
	for _, j := range f.f.Joints {
		if beam, _ := f.f.Part(j.Parts[1]); j.Kind == frame.FaceToEnd && beam.Kind == frame.Beam {
			j.ID, j.Kind, j.EndGrain = j.ID+"+bracket", frame.Bracket, false
			j.Through, j.Into = plate, f.rail.Thickness
			list = append(list, j)
		}
	}
	f.f.Joints = append(f.f.Joints, list...)
	told := false
	for i := range f.f.Acts {
		if a := &f.f.Acts[i]; a.Of == "end ledgers" || a.Of == "side ledgers" {
			a.Note += " Then screw an angle bracket into the corner on either side of each beam's end."
			if !told { // the first act that has any has them all at hand
				a.Fits, told = append(a.Fits, f.id("brackets")), true
			}
		}
	}
	f.f.Fittings = append(
		f.f.Fittings,
		frame.Fitting{
			ID:    f.id("brackets"),
			Bed:   f.bed.ID,
			Kind:  "bracket",
			Place: "at the beams' ends, one on either side",
			Count: 2 * len(list),
			Why:   "two to each of " + measure.Count(len(list), "end of a beam"),
		},
	)
	return nil
}

// midLegs stands more legs outside the long sides, evenly between the corners.
func (f *floored) midLegs() []string {
	n, _ := f.bed.OptionCount("mid_legs")
	q := f.leg.Width
	var ids []string
	for k := measure.Length(1); k <= measure.Length(n); k++ {
		x := (f.outLength - q) * k / measure.Length(n+1)
		for _, at := range []struct {
			side int
			y    measure.Length
		}{{front, -q}, {back, f.outWidth}} {
			p := f.part(f.leg, frame.Leg, fmt.Sprintf("leg %d between, %s", k, f.sides[at.side].name))
			p.ID, p.Grain, p.Length = f.id("leg.%s.%d", f.sides[at.side].key, k), frame.Z, f.rim-f.casters
			p.Body = upright(x, at.y, q, f.casters, f.rim)
			p.Fields = []string{"mid_legs", "height", "post"}
			f.f.Parts = append(f.f.Parts, p)
			ids = append(ids, p.ID)
			f.fixTo(at.side, p, frame.FaceToPost)
		}
	}
	return ids
}
