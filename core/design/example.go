package design

import (
	"fmt"

	"chamfer/core/catalog"
)

// Example is a built-in design, ready to be changed and planned.
type Example struct {
	Name, About string
	make        func(*catalog.Catalog) Design
}

// Examples lists the built-in designs, one for each building system at least.
func Examples() []Example {
	return []Example{
		{"boarded", "boards on edge, screwed to posts inside the corners, with a mitred cap", func(c *catalog.Catalog) Design {
			d := New(c, "Boarded frame on posts")
			d.Beds[0].Cap = Mitred
			return d
		}},
	}
}

// ExampleNamed returns a built-in design for a region.
func ExampleNamed(name string, c *catalog.Catalog) (Design, error) {
	for _, e := range Examples() {
		if e.Name == name {
			return e.make(c), nil
		}
	}
	return Design{}, fmt.Errorf("there is no example %q; chamfer examples lists them", name)
}
