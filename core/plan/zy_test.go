package plan_test

import (
	"fmt"
	"os"
	"testing"

	"chamfer/core/design"
	"chamfer/core/plan"
	"chamfer/core/strength"
)

func TestZY(t *testing.T) {
	if os.Getenv("ZY") == "" {
		t.Skip()
	}
	for _, region := range []string{"us", "metric"} {
		shop, _ := plan.ShopFor(region)
		for _, s := range design.Systems() {
			d, err := design.Apply(design.New(shop.Catalog, "x"), shop.Catalog, set("system", s.Name))
			if err != nil {
				fmt.Println(region, s.Name, err)
				continue
			}
			p, err := plan.Make(d, shop)
			if err != nil {
				fmt.Println(region, s.Name, err)
				continue
			}
			worst := map[string]strength.Link{}
			for _, l := range p.Links {
				k := string(l.Path) + string(l.Way)
				if l.Ratio()/l.Much() > worst[k].Ratio()/max(1, worst[k].Much()) {
					worst[k] = l
				}
			}
			for _, l := range worst {
				if l.Ratio() > 1 {
					fmt.Printf("%-6s %-12s %-18s %-28s %4.0f%% of %4.0f%% %s > %s (%.0f N)\n", region, s.Name, l.Path, l.Way, l.Ratio()*100, l.Much()*100, l.From, l.To, l.Load)
				}
			}
		}
	}
}
