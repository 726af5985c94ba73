package plan_test

import (
	"bytes"
	"flag"
	"fmt"
	"os"
	"slices"
	"strings"
	"testing"

	"chamfer/core/catalog"
	"chamfer/core/design"
)

var update = flag.Bool("update", false, "write docs/choices.md anew")

// without says why a decision that several systems have is not had by the others.
var without = map[string]string{
	"corners":        "Sleepers meet at their posts, a carrier's boards at its legs; blocks have bonds.",
	"post":           "Others stand on stakes, cleats, legs of their own stuff, or on themselves.",
	"post_below_rim": "Only where posts stand inside the walls.",
	"post_in_ground": "Only where posts stand inside the walls.",
	"mid_posts":      "Others have stakes, cleats, ties or blocks between the corners.",
	"mid_in_ground":  "Only where posts stand inside the walls.",
	"cap":            "Blocks have their own (`unit_cap`); a sleeper is wide enough to sit on; a carrier has none.",
	"under":          "What has a floor has nothing under its soil to keep out.",
	"grass":          "What stands on feet or legs leaves the ground as it is.",
	"width":          "A round bed is as wide as it is long.",
	"soil":           "A plinth holds none.",
	"boards_high":    "Tiers, sleepers and carriers are as high as their own decisions say; blocks come by the course.",
	"screws_each":    "Tiers, sleepers and carriers hang on their own joints; blocks have none.",
	"top_board":      "As the boards high.",
	"ripped":         "A sleeper is not ripped by hand, tiers are alike, a carrier has one board; blocks are no wood.",
	"unit":           "Only what is built of blocks.",
	"bury":           "Only what is laid or cast.",
	"base":           "Only what is laid or cast.",
	"gap":            "Only what has a floor of slats.",
	"casters":        "Only what can be lifted off the ground.",
	"ties":           "What hangs on posts or stakes has `cross_ties` to add.",
	"fit":            "Only straight runs can be of any length.",
	"drain":          "Only walls that hold the ground itself back.",
}

// docs/choices.md lists every decision, numbered, with the ways to build that have it; a hole in
// it is explained.
func TestChoices(t *testing.T) {
	type row struct {
		f  design.Field
		of []string
	}
	var rows []*row
	cat, err := catalog.ForRegion("us")
	if err != nil {
		t.Fatal(err)
	}
	systems := design.Systems()
	for _, s := range systems {
		d, err := design.Apply(design.New(cat, "any"), cat, design.Edit{Bed: "b1", Field: "system", Value: s.Name})
		if err != nil {
			t.Fatal(err)
		}
		for _, f := range design.FieldsOf(d.Beds[0]) {
			i := slices.IndexFunc(rows, func(r *row) bool { return r.f.Key == f.Key })
			if i < 0 {
				i = len(rows)
				rows = append(rows, &row{f: f})
			}
			rows[i].of = append(rows[i].of, s.Name)
		}
	}
	var b bytes.Buffer
	fmt.Fprintf(&b, `# Choices

Every decision there is, numbered, with the ways to build that have it. Written by
`+"`go test ./core/plan -run Choices -update`"+`; what is asked for is what the pages, files and the command line take.
Sizes can be said from outside as well: `+"`outside:length`, `outside:width`, and `outside:soil`"+` for the rim.

| No. | Decision | Key | Taken on | Takes | Had by |
|---|---|---|---|---|---|
`)
	for i, r := range rows {
		takes := map[design.Kind]string{design.LengthField: "a length", design.NumberField: "a number",
			design.TextField: "a text", design.PointsField: "points",
			design.ChoiceField: "one of several"}[r.f.Kind]
		if r.f.Kind == design.NumberField && r.f.Default == design.Auto {
			takes += ", or auto"
		}
		had := "all"
		if n := len(r.of); n < len(systems) {
			had = strings.Join(r.of, ", ")
			if n > len(systems)/2 {
				var lacks []string
				for _, s := range systems {
					if !slices.Contains(r.of, s.Name) {
						lacks = append(lacks, s.Name)
					}
				}
				had = "all but " + strings.Join(lacks, ", ")
			}
		}
		extra, _ := r.f.Extra()
		why := without[r.f.Key]
		switch {
		case why != "":
			had += ". " + why
		case len(r.of) == len(systems):
		case extra:
			had += ". It can be added to these: it hangs on what they have."
		case len(r.of) == 1:
			had += ": its own."
		case strings.HasPrefix(r.f.Key, "cap_") && without["cap"] != "":
			had += ". Where there may be a cap."
		default:
			had += ". What these are built of."
		}
		fmt.Fprintf(&b, "| %d | %s | `%s` | %s | %s | %s |\n", i+1, r.f.Label, r.f.Key, r.f.Stage, takes, had)
	}
	const path = "../../docs/choices.md"
	if *update {
		if err := os.WriteFile(path, b.Bytes(), 0o644); err != nil {
			t.Fatal(err)
		}
	}
	if now, err := os.ReadFile(path); err != nil || !bytes.Equal(now, b.Bytes()) {
		t.Errorf("docs/choices.md is not what there is, %v: go test ./core/plan -run Choices -update", err)
	}
	if len(rows) < 80 {
		t.Errorf("only %d decisions", len(rows))
	}
}
