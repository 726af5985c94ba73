package plan

import (
	"fmt"
	"strings"

	"chamfer/core/aside"
	"chamfer/core/catalog"
	"chamfer/core/design"
)

// CheckRegion tries what a region sells: the bed a project begins with is planned, and the example of every way to
// build. It fails where one of them cannot be, and names those.
func CheckRegion(c *catalog.Catalog) error {
	shop := Shop{Catalog: c, Habits: c.Habits}
	var lacks []string
	made := func(begin func() (design.Design, error)) (err error) {
		if fault := aside.Catch(func() {
			var d design.Design
			if d, err = begin(); err == nil {
				_, err = Make(d, shop)
			}
		}); fault != nil {
			return fmt.Errorf("what is sold makes no sense together: %w", fault)
		}
		return err
	}
	if err := made(func() (design.Design, error) { return design.New(c, c.Name), nil }); err != nil {
		return fmt.Errorf("%s: the bed a project begins with cannot be built: %s", c.ID,
			strings.ReplaceAll(err.Error(), "\n", "; "))
	}
	for _, x := range design.Examples() {
		if made(func() (design.Design, error) { return design.ExampleNamed(x.Name, c) }) != nil {
			lacks = append(lacks, x.Name)
		}
	}
	if len(lacks) > 0 {
		return fmt.Errorf("%s: what is sold does not build %s: keep something of each kind that they are built of", c.ID,
			strings.Join(lacks, ", "))
	}
	return nil
}
