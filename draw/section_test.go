package draw

import (
	"regexp"
	"strconv"
	"strings"
	"testing"

	"chamfer/core/design"
	"chamfer/core/plan"
)

var boxPath = regexp.MustCompile(`class="(d-[a-z -]+)" d="M([\d.-]+) ([\d.-]+)L([\d.-]+) [\d.-]+L[\d.-]+ ([\d.-]+)L`)

// A section is to scale: by hand a wall of 8 in units, 4 in high, stands on a screed of
// 1 in and 4 in of stone in a trench of 8 + 2 x 3 in; and every bed of blocks has one.
func TestSection(t *testing.T) {
	for _, region := range []string{"us", "metric"} {
		shop, err := plan.ShopFor(region)
		if err != nil {
			t.Fatal(err)
		}
		for _, s := range design.Systems() {
			if s.Of != "masonry" {
				continue
			}
			edits := []design.Edit{{Bed: "b1", Field: "system", Value: s.Name}}
			if s.Name == "block-wall" {
				edits = append(edits, design.Edit{Bed: "b1", Field: "drain", Value: "stone"})
			}
			d, err := design.Apply(design.New(shop.Catalog, "cut"), shop.Catalog, edits...)
			if err != nil {
				t.Fatal(err)
			}
			p, err := plan.Make(d, shop)
			if err != nil {
				t.Fatal(err)
			}
			for _, w := range []float64{900, 360} {
				svg := Section(&p.Frames[0], p.Shop.Precision(), Sheet{W: w, H: w / 2, Font: 14})
				if strings.Contains(svg, "NaN") ||
					s.Name != "slotted" && !strings.Contains(svg, "d-base") && !strings.Contains(svg, "d-screed") &&
						p.Frames[0].Bases[0].Stone > 0 {
					t.Errorf("%s, %s: %s", region, s.Name, svg)
				}
				if region != "us" || s.Name != "block-wall" {
					continue
				}
				size := map[string][2]float64{} // of the first of a kind
				for _, m := range boxPath.FindAllStringSubmatch(svg, -1) {
					var v [4]float64
					for i := range v {
						if v[i], err = strconv.ParseFloat(m[i+2], 64); err != nil {
							t.Fatal(err)
						}
					}
					size[m[1]] = [2]float64{v[2] - v[0], v[1] - v[3]} // the last: of stone the trench's
				}
				inch := size["d-stone-face"][0] / 8
				for class, want := range map[string][2]float64{"d-stone-face": {8, 4}, "d-screed": {8, 1},
					"d-base": {14, 4}} {
					for i := range want {
						if got := size[class][i] / inch; got < want[i]*0.99-0.02 || got > want[i]*1.01+0.02 {
							t.Errorf(
								"%s measures %.2f and %.2f in, want %v",
								class,
								size[class][0]/inch,
								size[class][1]/inch,
								want,
							)
							break
						}
					}
				}
			}
		}
	}
}
