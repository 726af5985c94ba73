package plan_test

import (
	"testing"

	"chamfer/core/design"
	"chamfer/core/plan"
)

// A bed that was kept before something added to it had one of its decisions reads back with that
// decision as it starts.
func TestOlderFiles(t *testing.T) {
	shop, err := plan.ShopFor("us")
	if err != nil {
		t.Fatal(err)
	}
	tried := 0
	for _, s := range design.Systems() {
		d := design.New(shop.Catalog, "x")
		if d, err = design.Apply(d, shop.Catalog, set("system", s.Name)); err != nil {
			t.Fatal(err)
		}
		for _, e := range []design.Edit{set("mesh", "mesh"), set("fence", "net"), set("liner", "membrane"),
			set("grid", "string"), set("trellis", "wire"), set("hoops", "pipe"), set("bench", "front")} {
			if next, err := design.Apply(d, shop.Catalog, e); err == nil {
				d = next
			}
		}
		for key := range d.Beds[0].Options {
			f, ok := design.FieldOf(d.Beds[0], key)
			if is, turns := f.Extra(); !ok || !is || turns {
				continue // a system's own were there from its first day
			}
			old := d.Copy()
			delete(old.Beds[0].Options, key)
			old.Complete()
			if err := design.Check(old, shop.Catalog); err != nil {
				t.Errorf("%s without %s: %v", s.Name, key, err)
			}
			tried++
		}
	}
	if tried < 60 {
		t.Errorf("only %d decisions were left out", tried)
	}
}
