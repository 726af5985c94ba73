// Package timber turns a gardener's decisions about a wooden bed into a frame
// of parts, one file a building system. A builder places every piece in space
// and says what is screwed to what; nothing after it needs to know which
// builder it was.
package timber

import (
	"slices"

	"chamfer/core/builder"
	"chamfer/core/design"
)

// System is a building system of timber.
type System = builder.System

// systems in the order they are offered. A new one is its own file and a word
// here.
var systems = []System{
	boardedFrame,
	stakedFrame,
	plainBox,
	angledBed,
	sidedBed,
	outlinedBed,
	cleatedBox,
	tieredBox,
	sleeperBed,
	piecedFrame,
	leggedPlanter,
	footedPlanter,
	openCarrier,
}

func init() {
	for _, e := range extras {
		if !slices.Contains(makes, e.Name) {
			design.RegisterExtra(e.Extra)
		}
	}
	builder.Register(systems...)
}
