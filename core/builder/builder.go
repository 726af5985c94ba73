// Package builder keeps the builders of all building systems, whatever they are
// built of: each registers its system while the program starts, and a bed is built
// by whoever registered its own.
package builder

import (
	"fmt"

	"chamfer/core/addition"
	"chamfer/core/aside"
	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/frame"
)

// System is a building system: the decisions it has, and its builder.
type System struct {
	design.System
	Build func(design.Bed, *catalog.Catalog) (frame.Frame, error)
}

// registered builders by the system's name; after the program has started they are
// only read.
var registered = map[string]System{}

// Register adds systems in the order they are offered. It is for builders, while the
// program starts; a name that is taken is a fault of the program.
func Register(systems ...System) {
	for _, s := range systems {
		design.Register(s.System)
		registered[s.Name] = s
	}
}

// Outer measures a bed from outside, as it is built. A bed that breaks a rule may not be
// buildable at all; what goes wrong then is an error like any other.
func Outer(bed design.Bed, cat *catalog.Catalog) (outer design.Outers, err error) {
	fault := aside.Catch(func() {
		var f frame.Frame
		if f, err = Build(bed, cat); err == nil {
			outer = OuterOf(f)
		}
	})
	if fault != nil {
		return nil, fault
	}
	return outer, err
}

// OuterOf are the sizes of a frame from outside.
func OuterOf(f frame.Frame) design.Outers {
	lo, hi := f.Outside[0], f.Outside[1]
	return design.Outers{"length": hi.U - lo.U, "width": hi.V - lo.V, "soil": f.Rim}
}

func init() { design.MeasureOuter(Outer) }

// Build builds a bed by its system. The design has passed [design.Check].
func Build(bed design.Bed, cat *catalog.Catalog) (frame.Frame, error) {
	s, ok := registered[bed.System]
	if !ok {
		return frame.Frame{}, fmt.Errorf("no builder for system %q", bed.System)
	}
	f, err := s.Build(bed, cat)
	if err != nil {
		return f, fmt.Errorf("%s: %w", s.Name, err)
	}
	f.Wet = bed.WetDensity(cat)
	addition.Build(&f, bed, cat)
	return f, nil
}
