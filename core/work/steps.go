// Package work is the order of the job: one step at a time, with this bed's own
// numbers, what to have at hand, and the caution where the danger is. It reads
// the frame's acts and joints, the cuts, the ground and the soil, and knows no
// building system.
package work

import (
	"fmt"
	"slices"
	"strings"

	"chamfer/core/catalog"
	"chamfer/core/cutting"
	"chamfer/core/design"
	"chamfer/core/fill"
	"chamfer/core/finish"
	"chamfer/core/fixing"
	"chamfer/core/frame"
	"chamfer/core/ground"
	"chamfer/core/laying"
	"chamfer/core/measure"
	"chamfer/core/water"
)

// Caution is what can hurt, and why.
type Caution struct{ Text, Why string }

// Step is one thing to do.
type Step struct {
	ID       string // stable, so that a tick stays with its step
	Bed      string
	Title    string
	Where    string
	Do       []string // sentences
	Have     []string // materials and tools
	Cautions []Caution
	Parts    []string // shown on the step's drawing
	New      []string // of those, the ones this step is about
	Sheet    string   // the sheet that is laid, drawn as it lies
	Uses     []Use    // what it takes of what is bought or owned
	Brings   []string // of that, what it brings home
	Phase    Phase
	After    []Before  // what comes before it
	Joints   []string  // of its bed, that become whole with it
	Fills    []string  // cavities of its bed, that it fills
	Chores   []Chore   // what it is made of, for one person
	Hands    int       // people it takes at least
	Weather  []Weather // it wants
	Digs     bool      // earth comes out of the ground
	Rounds   int       // it is done in so many goes, with Between from one to the next; 0 is once
	Between  Wait
	Print    string     // of what it does: the same as long as that is
	Was      string     // what it was called before each bed was filled in a step of its own
	act      *frame.Act // it is written from
	level    int        // of a slope that is built level by level: which, from 1
	timber   []string   // parts it places
	units    []string   // blocks it places
	beds     []string   // it serves, where it is done for several
}

// Weather is what a step wants of it.
type Weather string

// What weather steps want.
const (
	NoFrost Weather = "no frost" // on the day and the two nights after
	NoRain  Weather = "no rain"
)

// Input is what the steps are written from.
type Input struct {
	Frames     []frame.Frame
	Cuts       []cutting.Answer
	Spares     int // boards that are bought beside those
	Fixings    fixing.Plan
	Ground     ground.Plan
	Formations []ground.Formation // of beds on ground that was measured
	Edging     []frame.Fitting    // of covered paths
	Walks      []ground.Walk      // paths on ground that was measured
	Even       bool               // and those are made even across
	Water      water.Plan
	Finish     finish.Plan
	Fill       fill.Plan
	Laying     laying.Plan
	Catalog    *catalog.Catalog
	Habits     catalog.Habits
	Grass      map[string]string          // by bed
	Earth      string                     // of the plot
	On         map[string]design.Standing // what each bed stands on
	Decks      bool                       // some of it stands on a deck, balcony or roof
}

var (
	saw = Caution{"Wear eye and ear protection, clamp the board, and let the blade stop before you reach in.",
		"A piece that pinches the blade is thrown back at you."}
	dust = Caution{
		"Cut treated boards outdoors with a dust mask, brush cut-off preservative on the ends, and burn no offcuts.",
		"The dust and the smoke carry the preservative.",
	}
	lift = Caution{"Carry long boards and full barrows with two people, and lift with straight backs.",
		"Wet boards and wet soil weigh more than they look."}
	dig = Caution{
		"Before you dig or drive anything into the ground, find out what pipes and cables run there; local rules say" +
			" whom to ask.",
		"A cable cut with a spade can kill.",
	}
	hammer = Caution{
		"Wear eye protection when you drive stakes, and let nobody hold one by hand while another strikes.",
		"Splinters fly, and hammers glance off.",
	}
	mesh = Caution{"Wear gloves and eye protection to cut mesh, and turn its points to the wood.",
		"Cut wires are as sharp as needles, and spring."}
	heavy = "Two people to each of these, and mind fingers and feet when one is set down."
	drill = Caution{"Hold the piece in clamps, not by hand, when you drill.",
		"A bit that catches spins the piece."}
)

// Steps writes the steps of a project, and puts them into an order that can be carried out: each after what it is fixed
// to, stands on or closes, and else as the trade does things.
func Steps(in Input) []Step {
	w := &writer{Input: in, p: in.Catalog.Precision(in.Habits), sys: in.Catalog.System}
	if len(in.Cuts) > 0 {
		w.ready()
	}
	w.bringBlocks()
	for i := range in.Frames {
		w.bed(&in.Frames[i])
	}
	w.walks()
	w.spoil()
	w.pipes()
	w.soil()
	w.drip()
	w.sprinkle()
	w.cover()
	w.finish()
	w.bring()
	w.amounts()
	w.hands()
	w.graph()
	beds := map[string]int{}
	for i, f := range in.Frames {
		beds[f.Bed] = i
	}
	return w.shown(ordered(w.steps, beds))
}

type writer struct {
	Input
	p     measure.Precision
	sys   measure.System
	steps []Step
	loose map[string]int                    // the loose act a part was made up in
	hired bool                              // what is hired was named
	index map[string]map[string]frame.Prism // what parts and blocks fill, by bed
}

func (w *writer) add(s Step) {
	s.Uses = slices.DeleteFunc(s.Uses, func(u Use) bool { return u.Count == 0 && u.Length == 0 && u.Volume == 0 })
	w.steps = append(w.steps, s)
}

func (w *writer) bed(f *frame.Frame) {
	id := func(s string) string { return f.Bed + "." + s }
	of := ""
	if len(w.Frames) > 1 {
		of = ": " + f.Name
	}
	if f.Times > 1 {
		of += fmt.Sprintf(", %d times", f.Times)
	}
	length, width := f.Outside[1].U-f.Outside[0].U, f.Outside[1].V-f.Outside[0].V
	diagonal := measure.Hypot(length, width)
	if f.OnFeet {
		w.add(
			Step{
				ID:     id("ground"),
				Bed:    f.Bed,
				Phase:  SetOut,
				Chores: []Chore{{Rates()["level"], float64(f.Times)}},
				Title:  "Find a level spot" + of,
				Have:   []string{"level", "a straight board"},
				Do: []string{
					fmt.Sprintf(
						"It stands on %s by %s. Check with the level on the straight board, both ways: what rocks"+
							" when it is empty sinks when it is full.",
						w.p.Feet(length),
						w.p.Feet(width),
					),
					"Put a slate or a tile under each foot on soft ground."},
			},
		)
		w.assemble(f, diagonal, of)
		w.line(f, of)
		return
	}
	w.add(w.ground(f, of, length, width, diagonal))
	w.bedUnits(f, of)
	for _, c := range w.Ground.Covers {
		if c.Sheet.Bed != f.Bed || c.Sheet.Inside || c.Sheet.Outside {
			continue
		}
		do := []string{fmt.Sprintf("Lay %s of %s%s.", measure.Count(c.Strips, "strip"), w.p.Feet(c.Strip), w.seams(c))}
		if c.Roll.ID == "cardboard" {
			do = append(do, "Wet it, and it lies flat and stays put. Pull off tape and labels: they do not rot.")
		} else {
			do = append(do, "Pull it flat, and pin or weight its edges until the walls hold it.")
		}
		s := Step{
			ID:    c.Sheet.ID + ".cover",
			Bed:   f.Bed,
			Phase: Found,
			Sheet: c.Sheet.ID,
			Title: "Cover the ground" + of,
			Have:  []string{c.Roll.Name, "knife"},
			Do:    do,
		}
		w.sheeted(&s, c, f.Times)
		w.add(s)
	}
	w.assemble(f, diagonal, of)
	w.line(f, of)
}

// ground is the step of marking out and making ready what the bed stands on.
func (w *writer) ground(f *frame.Frame, of string, length, width, diagonal measure.Length) Step {
	s := Step{
		ID:    f.Bed + ".ground",
		Bed:   f.Bed,
		Phase: SetOut,
		Title: "Make the ground ready" + of,
		Have:  []string{"pegs and string", "spade", "level", "a straight board"},
	}
	s.chore("set-out", float64(f.Times))
	firm := w.On[f.Bed].Firm()
	if firm {
		s.Title, s.Have = "Mark it out"+of, []string{"chalk and string", "tape", "level", "a straight board"}
	}
	out := "Peg out"
	if firm {
		out = "Chalk out"
	}
	switch {
	case len(f.Arcs) > 0:
		arc := f.Arcs[0]
		s.Do = append(
			s.Do,
			fmt.Sprintf(
				"%s the circle: on a string from its middle the wall's outer face is %s away, its inner one %s.",
				out,
				w.p.Feet(arc.Outside),
				w.p.Feet(arc.Inside),
			),
		)
	case f.Baseline:
		s.Do = append(
			s.Do,
			fmt.Sprintf(
				"Stretch a line of %s along the front of it all, and %s each of the %s from it, so far along and so far out"+
					" at a right angle; the setting-out sheet has them. Bend a thin strip or a hose round the pegs: that is the"+
					" face of the lowest wall. What lies behind is measured out from it, square to it wherever it goes.",
				w.p.Feet(length), strings.ToLower(strings.TrimSuffix(out, " out")),
				measure.Count(len(f.Marks), "point"),
			),
		)
	case f.Outline != nil:
		sides, across := w.angles(f)
		s.Do = append(
			s.Do,
			fmt.Sprintf("%s the outside of the walls, from the front left anticlockwise: %s.", out, sides),
			fmt.Sprintf("It has its shape when it measures across, corner to corner: %s.",
				across),
		)
	default:
		s.Do = append(
			s.Do,
			fmt.Sprintf(
				"%s %s by %s, the outside of the walls. It is square when both diagonals measure %s.",
				out,
				w.p.Feet(length),
				w.p.Feet(width),
				w.p.Feet(diagonal),
			),
		)
	}
	if firm {
		s.Do = append(
			s.Do,
			"Check with the level on the straight board, along, across and corner to corner: where it falls, the low"+
				" side is packed up, not left in the air.",
		)
		return s
	}
	if w.On[f.Bed] == design.OnGravel {
		s.Have = append(s.Have, "rake")
		s.Do = append(s.Do, "Rake the gravel aside where the walls stand, down to what it lies on: walls on loose stones"+
			" creep. Rake it back against them once they stand.")
	}
	switch w.Grass[f.Bed] {
	case "keep":
		s.Do = append(s.Do, "Cut the grass as short as the mower goes.")
	case "strip":
		s.Digs = true
		s.chore("turf", f.Footprint().SquareMetres()*float64(f.Times))
		s.Do = append(
			s.Do,
			"Cut the turf into strips a spade wide and lift it; stacked upside down it makes good soil in a year.",
		)
	}
	if w.formed(&s, f) {
		s.Digs = true
		return s
	}
	high := "Take the high corners down rather than filling the low ones: filled ground settles. Check with the" +
		" level on the straight board, along, across and corner to corner."
	if len(f.Arcs) > 0 {
		high = "Take the high side down rather than filling the low one: filled ground settles. Check with the level" +
			" on the straight board, across the circle both ways and round it."
	}
	if climbs(f) {
		s.Do = append(s.Do, "Nothing else is dug yet: the ground is made level by level, as the walls go up from the lowest.")
		return s
	}
	for _, l := range f.Levels {
		s.Digs = true
		s.chore(w.digging(), (l.Cut+l.Fill).CubicMetres()*float64(f.Times))
	}
	if len(f.Levels) > 0 {
		high = "Level by level, from the lowest up, once its wall stands: " + w.levels(f) + ". What is cut above a level is" +
			" filled below it, trodden down in layers a hand deep."
	}
	s.Do = append(s.Do, high)
	return s
}

// levels says what is moved to make each level of a slope.
func (w *writer) levels(f *frame.Frame) string {
	var list []string
	for _, l := range f.Levels {
		list = append(list, fmt.Sprintf("%s at %s, %s to cut and %s to fill", l.Name, w.p.Feet(l.Height), w.sys.Volume(l.Cut),
			w.sys.Volume(l.Fill)))
	}
	return strings.Join(list, "; ")
}

// seams says how strips meet.
func (w *writer) seams(c ground.Cover) string {
	lap := w.p.Short(c.Roll.Lap)
	words := ""
	if c.Strips > 1 {
		words += ", lapped " + lap + " so that nothing finds a gap"
	}
	if c.Sheet.Closed {
		words += ", its ends lapped " + lap + " where they meet"
	}
	if c.Joints > 0 {
		words += fmt.Sprintf("; %s goes on from another roll, lapped %s as well", measure.Count(c.Joints, "strip"), lap)
	}
	return words
}
