package design

import (
	"fmt"

	"chamfer/core/catalog"
)

// Example is a built-in design, ready to be changed and planned. It belongs to its system.
type Example struct {
	Name  string // "" for the system's
	Title string // of the project; "" for the system's
	About string
	Sized func(*catalog.Catalog, *Bed) // before it is of the system; nil for the usual size
	Then  func(*Bed)                   // when it is; nil for nothing more
	Edits []Edit                       // of it, last

	system string
}

// Examples lists the built-in designs, system after system, one for each at least.
func Examples() []Example {
	var list []Example
	for _, s := range Systems() {
		for _, e := range s.Examples {
			e.system = s.Name
			if e.Name == "" {
				e.Name = s.Name
			}
			if e.Title == "" {
				e.Title = s.Title
			}
			list = append(list, e)
		}
	}
	return list
}

// design is the example's, in a region.
func (e Example) design(c *catalog.Catalog) (Design, error) {
	d := New(c, e.Title)
	b := &d.Beds[0]
	if e.Sized != nil {
		e.Sized(c, b)
	}
	if e.system != b.System || e.Sized != nil { // the usual bed is of its system already
		if err := b.become(e.system, c); err != nil {
			return Design{}, err
		}
	}
	if e.Then != nil {
		e.Then(b)
	}
	return Apply(d, c, e.Edits...)
}

// ExampleNamed returns a built-in design for a region.
func ExampleNamed(name string, c *catalog.Catalog) (Design, error) {
	for _, e := range Examples() {
		if e.Name == name {
			return e.design(c)
		}
	}
	return Design{}, fmt.Errorf("there is no example %q; chamfer examples lists them", name)
}
