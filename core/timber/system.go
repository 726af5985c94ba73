// Package timber turns a gardener's decisions about a wooden bed into a frame
// of parts, one file a building system. A builder places every piece in space
// and says what is screwed to what; nothing after it needs to know which
// builder it was.
package timber

import (
	"fmt"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/frame"
)

// System is a building system: the decisions it has, and its builder.
type System struct {
	design.System
	Build func(design.Bed, *catalog.Catalog) (frame.Frame, error)
}

// systems in the order they are offered. A new one is its own file and a word
// here.
var systems = []System{boardedFrame, stakedFrame, plainBox, cleatedBox, tieredBox, sleeperBed, piecedFrame, leggedPlanter, footedPlanter, openCarrier}

func init() {
	for _, e := range extras {
		design.RegisterExtra(e.Extra)
	}
	for _, s := range systems {
		design.Register(s.System)
	}
}

// Build builds a bed by its system. The design has passed [design.Check].
func Build(bed design.Bed, cat *catalog.Catalog) (frame.Frame, error) {
	for _, s := range systems {
		if s.Name == bed.System {
			f, err := s.Build(bed, cat)
			if err != nil {
				return f, fmt.Errorf("%s: %w", s.Name, err)
			}
			return f, nil
		}
	}
	return frame.Frame{}, fmt.Errorf("timber: no builder for system %q", bed.System)
}
