package plan_test

import (
	"context"
	"reflect"
	"testing"

	"chamfer/core/design"
	"chamfer/core/plan"
	"chamfer/long"
)

// Every choice of a system's own that is shown changes what is built, or the page says
// that it does not: the reason where the decision has one, "changes nothing here" otherwise.
// A decision that says why it is idle really is.
func TestIdleChoices(t *testing.T) {
	if testing.Short() {
		t.Skip("thousands of plans")
	}
	idle, told := 0, 0
	for _, region := range []string{"us", "metric"} {
		shop, err := plan.ShopFor(region)
		if err != nil {
			t.Fatal(err)
		}
		r := newDealer(5)
		for i := range long.Of(100) * 2 {
			d, ok := some(r, shop)
			if !ok {
				continue
			}
			if i%2 == 0 {
				d = furnished(r.Rand, d, shop)
			}
			now, err := plan.Reckon(d, shop)
			if err != nil {
				continue
			}
			b := d.Beds[0]
			var asks [][]design.Edit
			var fields []design.Field
			for _, f := range design.FieldsOf(b) {
				if !f.Builds() || !f.Decides(shop.Catalog, b) {
					continue
				}
				for _, c := range f.Choices(shop.Catalog, b) {
					if c.Value != f.Text(b, shop.Precision()) {
						asks = append(asks, []design.Edit{{Bed: b.ID, Field: f.Key, Value: c.Value}})
						fields = append(fields, f)
					}
				}
			}
			for k, o := range plan.WhatIfs(context.Background(), now, asks) {
				if o.Err != nil || o.Unasked {
					continue
				}
				f := fields[k]
				if f.Idle != nil && f.Idle(b) != "" {
					idle++
					if !o.Same {
						t.Errorf(
							"%s: %s is said to change nothing, and %v changes %v",
							b.System,
							f.Key,
							asks[k],
							o.Changes,
						)
					}
				}
				if !o.Same {
					continue
				}
				told++
				then, err := design.Apply(d, shop.Catalog, asks[k]...)
				if err != nil {
					t.Fatal(err)
				}
				if p, err := plan.Reckon(then, shop); err != nil || !reflect.DeepEqual(p.Frames, now.Frames) {
					t.Errorf("%s: %v is told to change nothing: %v", b.System, asks[k], err)
				}
			}
		}
	}
	t.Logf("%d choices change nothing, of %d their decision says why", told, idle)
	if told == 0 || long.Whole() && idle == 0 {
		t.Error("nothing is idle: the designs do not reach what is looked for")
	}
}
