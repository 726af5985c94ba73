package timber

import (
	"slices"

	"chamfer/core/design"
)

// Extra is something that can be added to beds of several systems: its
// decisions, and what it puts on a box whose walls stand.
type Extra struct {
	design.Extra
	Build func(*box)
}

// extras in the order they are offered. A new one is its own file and a word
// here.
var extras = []Extra{
	crossTies,
	wallLiner,
	burrowMesh,
	plantingGrid,
	trellis,
	arch,
	bench,
	faceBoards,
	capNotch,
	glue,
	cornerStrips,
	easedEdges,
	wallHooks,
}

// makes are those that boxes of boards have a way of their own for; without them each is built
// like on any other bed.
var makes = []string{"mesh", "grid", "trellis"}

// What can be added to whom.
var (
	addsToGround = []string{
		"cross_ties",
		"liner",
		"mesh",
		"grid",
		"trellis",
		"hoops",
		"arch",
		"bench",
		"face",
		"notch",
		"glue",
		"fence",
	}
	addsToPlain = []string{
		"liner",
		"mesh",
		"grid",
		"trellis",
		"hoops",
		"arch",
		"face",
		"notch",
		"glue",
		"fence",
	} // it has ties of its own
	addsToFloored = []string{"liner", "grid", "trellis", "hoops", "face", "notch", "glue"}
)

func (b *box) addExtras() {
	s, _ := design.SystemNamed(b.bed.System)
	for _, e := range extras {
		if b.bed.Has(e.Name) && (!slices.Contains(makes, e.Name) || slices.Contains(s.Makes, e.Name)) {
			e.Build(b)
		}
	}
}

// orNone is a choice of an extra that is not there at first.
func orNone(note string, offers ...design.Choice) []design.Choice {
	return append([]design.Choice{{Value: design.NotThere, Label: "none", Note: note}}, offers...)
}
