package plan_test

import (
	"math/rand/v2"
	"os"
	"testing"

	"chamfer/core/plan"
)

func TestZX(t *testing.T) {
	code := os.Getenv("ZX")
	if code == "" {
		t.Skip()
	}
	r := rand.New(rand.NewPCG(11, 26))
	for k := range 400 {
		shop, _ := plan.ShopFor([]string{"us", "metric"}[k%2])
		d, ok := some(r, shop)
		if !ok {
			continue
		}
		p, err := plan.Make(d, shop)
		if err != nil {
			t.Fatal(err)
		}
		for _, f := range p.Findings {
			if f.Code == code {
				t.Logf("%s %s %v %s: %s %v capin %v out %v %s %s", d.Region, d.Beds[0].System, d.Beds[0].Soil, f.Severity, f.Text, f.Remedies, d.Beds[0].CapIn, d.Beds[0].CapOut, d.Beds[0].CapProfile, d.Beds[0].Board)
			}
		}
	}
}
