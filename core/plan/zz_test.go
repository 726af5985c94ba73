package plan_test

import (
	"fmt"
	"os"
	"strings"
	"testing"

	"chamfer/core/design"
	"chamfer/core/plan"
)

func TestZZ(t *testing.T) {
	spec := os.Getenv("ZZ") // us;system=legged;length=48 in
	if spec == "" {
		t.Skip()
	}
	parts := strings.Split(spec, ";")
	shop, _ := plan.ShopFor(parts[0])
	d := design.New(shop.Catalog, "x")
	for _, s := range parts[1:] {
		k, v, _ := strings.Cut(s, "=")
		var err error
		if d, err = design.Apply(d, shop.Catalog, design.Edit{Bed: "b1", Field: k, Value: v}); err != nil {
			t.Fatal(err)
		}
	}
	p, err := plan.Make(d, shop)
	if err != nil {
		t.Fatal(err)
	}
	for _, l := range p.Links {
		fmt.Printf("%-22s > %-22s %-18s %-28s %8.1f lb of %8.1f (%6.0f %%)  n=%d\n", strings.TrimPrefix(l.From, "b1."), strings.TrimPrefix(l.To, "b1."), l.Path, l.Way, l.Load/4.448, l.Holds/4.448, l.Ratio()*100, l.Screws)
	}
	for _, f := range p.Findings {
		fmt.Println(f.Severity, f.Code, f.Text)
		for _, r := range f.Remedies {
			fmt.Println("     ", r.Label)
		}
	}
}
