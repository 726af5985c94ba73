package web

import (
	"fmt"
	"html"
	"regexp"
	"strings"
	"testing"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/long"
	"chamfer/store"
)

var (
	untold  = regexp.MustCompile(`(?s)<(script|style|textarea)[^>]*>.*?</(script|style|textarea)>`)
	anyTag  = regexp.MustCompile(`<[^>]*>`)
	british = regexp.MustCompile(
		`(?i)\b(barrows?|car|lorry|galvanised|hire|labelled|levelled|mitred?|mitres|neighbour|sleepers?|timber|turf|` +
			`metres?|millimetres?|centre|grey|colour)\b`,
	)
	yankee = regexp.MustCompile(
		`(?i)\b(lumber|truck|rental|miter(ed)?|sod|galvanized|gray|color|neighbor|wheelbarrow-loads)\b`,
	)
	inMM   = regexp.MustCompile(`\d (mm|kg|kN/m²)\b`)
	inInch = regexp.MustCompile(`\d (in|ft|lb|sq ft|cu ft)\b|\d"`)
)

// Every page of every example says it in its region's words and sizes, and leaves what
// people named as they named it.
func TestWordsByRegion(t *testing.T) {
	f := &fuzzed{}
	f.fresh(t, t.TempDir())
	t.Cleanup(func() { f.store.Close() })
	const bed, project = "Mitred car", "Turf & lumber, 3 in a truck"
	for _, cat := range catalog.Regions() {
		for i, e := range design.Examples() {
			if !long.Whole() && i%5 != 0 {
				continue
			}
			d, err := design.ExampleNamed(e.Name, cat)
			if err != nil {
				t.Fatal(err)
			}
			d.Name, d.Beds[0].Name = project, bed
			id, err := f.store.Create(store.Home, d, "started", store.Kept{})
			if err != nil {
				t.Fatal(err)
			}
			pages := []string{"set-out", "cautions", "files/drawing-solid.svg"}
			for _, st := range stages {
				pages = append(pages, st.Key)
			}
			for _, page := range pages {
				_, body := f.get(t, fmt.Sprintf("/p/%d/%s", id, page))
				text := html.UnescapeString(anyTag.ReplaceAllString(untold.ReplaceAllString(body, ""), "\n"))
				if !strings.HasPrefix(page, "files") && !strings.Contains(text, project) {
					t.Errorf("%s %s, %s: the project's name is not on it", cat.ID, e.Name, page)
				}
				for _, line := range strings.Split(text, "\n") {
					line = strings.NewReplacer(project, "", bed, "", "andscape timber", "").Replace(line)
					strange, sized := british, inMM
					if !cat.American {
						strange, sized = yankee, inInch
					}
					if strings.Contains(line, "Source: ") || strings.Contains(line, "Boards are sold as") {
						continue // what is published is told as it is
					}
					for _, bad := range []string{strange.FindString(line), sized.FindString(line)} {
						if bad != "" {
							t.Errorf("%s %s, %s: %q in %q", cat.ID, e.Name, page, bad, strings.TrimSpace(line))
						}
					}
				}
			}
		}
	}
}
