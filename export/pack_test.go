package export

import (
	"bytes"
	"fmt"
	"image"
	_ "image/png"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strings"
	"testing"

	"chamfer/core/catalog"
	"chamfer/core/cutting"
	"chamfer/core/design"
	"chamfer/core/plan"
	"chamfer/long"
	"chamfer/paper"
)

func packOf(t testing.TB, p *plan.Plan, o Pack) []byte {
	t.Helper()
	var b bytes.Buffer
	if err := WritePack(&b, p, o); err != nil {
		t.Fatal(err)
	}
	return b.Bytes()
}

// run has one of Poppler's tools read a pack: readers of PDF that are not ours.
func run(t *testing.T, pdf []byte, tool string, args ...string) string {
	t.Helper()
	c := exec.Command(tool, args...)
	c.Stdin = bytes.NewReader(pdf)
	out, err := c.Output()
	if err != nil {
		t.Fatalf("%s: %v", tool, err)
	}
	return string(out)
}

// plain is a text without its spaces: where lines break is no matter.
func plain(s string) string {
	s = strings.NewReplacer("₀", "0", "₁", "1", "₂", "2", "₃", "3", "₄", "4", "₅", "5", "₆", "6", "₇", "7", "₈", "8",
		"₉", "9", "⁰", "0", "¹", "1", "²", "2", "³", "3", "⁴", "4", "⁵", "5", "⁶", "6", "⁷", "7", "⁸", "8", "⁹", "9",
		"⁄", "/", "-", "", "\u2010", "").Replace(s)
	return strings.Join(strings.Fields(s), "")
}

// Every example on both sizes of sheet: Poppler finds as many sheets as are counted on them, every face within the
// file, and everything that is bought, every step with its words and its caution, every joint and every layer. Twice
// the same bytes.
func TestPack(t *testing.T) {
	of := regexp.MustCompile(`page (\d+) of (\d+)`)
	for i, e := range design.Examples() {
		region, size, points := "us", paper.Letter, "612 x 792"
		if i%2 == 1 {
			region, size, points = "metric", paper.A4, "595.28 x 841.89"
		}
		t.Run(e.Name+", "+region, func(t *testing.T) {
			shop, err := plan.ShopFor(region)
			if err != nil {
				t.Fatal(err)
			}
			d, err := design.ExampleNamed(e.Name, shop.Catalog)
			if err != nil {
				t.Fatal(err)
			}
			p, err := plan.Make(d, shop)
			if err != nil {
				t.Fatal(err)
			}
			raw := packOf(t, p, Pack{Of: "3 May 2026"})
			if !bytes.Equal(raw, packOf(t, p, Pack{Size: size, Of: "3 May 2026"})) {
				t.Error("not the same bytes again, or not on the region's sheets")
			}
			info := run(t, raw, "pdfinfo", "-")
			if !strings.Contains(info, points) || strings.Contains(info, "could not be set") {
				t.Errorf("Poppler says %s", info)
			}
			for _, line := range strings.Split(strings.TrimSpace(run(t, raw, "pdffonts", "-")), "\n")[2:] {
				if f := strings.Fields(line); f[4] != "yes" {
					t.Errorf("not in the file: %s", line)
				}
			}
			text := run(t, raw, "pdftotext", "-layout", "-", "-")
			sheets := strings.Split(strings.TrimRight(text, "\f"), "\f")
			for n, s := range sheets {
				if m := of.FindStringSubmatch(s); m == nil || m[1] != fmt.Sprint(n+1) || m[2] != fmt.Sprint(len(sheets)) {
					t.Errorf("sheet %d of %d says %q", n+1, len(sheets), m)
				}
				if !strings.Contains(s, "3 May 2026") {
					t.Errorf("sheet %d has no day", n+1)
				}
			}
			all := plain(run(t, raw, "pdftotext", "-raw", "-", "-"))
			has := func(what, words string) {
				if !strings.Contains(all, plain(p.Say(words))) {
					t.Errorf("the %s is not on paper: %q", what, words)
				}
			}
			for _, l := range p.Bill.Lines {
				has("thing", l.Item)
			}
			for n, st := range p.Steps {
				has("step", fmt.Sprintf("%d. %s", n+1, st.Title))
				for _, c := range st.Cautions {
					has("caution", c.Text)
				}
				for _, do := range st.Do {
					has("sentence", do[:min(len(do), 24)])
				}
			}
			for _, l := range p.Fill.Laid {
				has("layer", l.Words)
			}
			for _, x := range p.Fixings.Details(p.Frames, shop.Catalog) {
				has("joint", upper(string(x.Kind)))
			}
			for _, f := range p.Tally {
				has("figure", f.Text)
			}
		})
	}
}

// The rule on the sheet of templates is as long as it says, and a template's piece as wide as the piece, as Poppler
// sets them at 200 dots to the inch: 6 in are 1200 dots.
func TestTemplatesAreFullSize(t *testing.T) {
	p, err := ReadDesign(example(t, "us"))
	if err != nil {
		t.Fatal(err)
	}
	shop, err := plan.ShopFor("us")
	if err != nil {
		t.Fatal(err)
	}
	made, err := plan.Make(p, shop)
	if err != nil {
		t.Fatal(err)
	}
	raw := packOf(t, made, Pack{})
	sheets := strings.Split(run(t, raw, "pdftotext", "-layout", "-", "-"), "\f")
	first := 0
	for n, s := range sheets {
		if strings.Contains(s, "Templates, full size") {
			first = n + 1
		}
	}
	if first == 0 {
		t.Fatal("no templates")
	}
	picture := func(n int) image.Image {
		base := filepath.Join(t.TempDir(), "sheet")
		run(t, raw, "pdftoppm", "-r", "200", "-png", "-f", fmt.Sprint(n), "-l", fmt.Sprint(n), "-singlefile", "-", base)
		f, err := os.Open(base + ".png")
		if err != nil {
			t.Fatal(err)
		}
		defer f.Close()
		img, _, err := image.Decode(f)
		if err != nil {
			t.Fatal(err)
		}
		return img
	}
	dark := func(img image.Image, x, y int) bool {
		r, g, b, _ := img.At(x, y).RGBA()
		return r+g+b < 3*0x9000
	}
	// The uprights of the rule stand at every sixteenth: its first and last are 1200 dots apart.
	img := picture(first)
	found := false
	for y := img.Bounds().Min.Y; y < img.Bounds().Max.Y && !found; y++ {
		var marks []int
		for x := range img.Bounds().Max.X {
			if dark(img, x, y) && !dark(img, x-1, y) {
				marks = append(marks, x)
			}
		}
		if len(marks) == 6*16+1 {
			if w := marks[len(marks)-1] - marks[0]; w < 1197 || w > 1203 {
				t.Errorf("6 in on the rule are %d dots at 200 to the inch", w)
			}
			found = true
		}
	}
	if !found {
		t.Error("no row of marks is a rule of 6 in in sixteenths")
	}
	// A 2x8 is 7 1/4 in wide (ALSC PS 20): the left edge of the first joint's template is 1450 dots high.
	img = picture(first + 1)
	longest := 0
	for x := range img.Bounds().Max.X {
		run := 0
		for y := range img.Bounds().Max.Y {
			if dark(img, x, y) {
				run++
				longest = max(longest, run)
			} else {
				run = 0
			}
		}
	}
	if longest < 1446 || longest > 1456 {
		t.Errorf("the template of a board 7 1/4 in wide is %d dots high", longest)
	}
}

// Whatever an edit accepts comes out on paper: every field of every system at the edges of what it takes, with names
// that no face has the letters of; no drawing has anything that paper does not know, and all words can be set but those
// names.
func TestPackOfEdges(t *testing.T) {
	n, every := 0, 60
	if long.Whole() {
		every = 1
	}
	for _, region := range catalog.Regions() {
		shop, err := plan.ShopFor(region.ID)
		if err != nil {
			t.Fatal(err)
		}
		shop.Cut = &cutting.Memo{}
		for _, system := range design.Systems() {
			d, err := design.Apply(design.New(region, "Möhren \U0001F955 و 花"), region,
				design.Edit{Bed: "b1", Field: "system", Value: system.Name})
			if err != nil {
				t.Fatal(err)
			}
			d.Beds[0].Name = "Beet \u0301\U0001F955 <b>&"
			for _, f := range design.FieldsOf(d.Beds[0]) {
				if f.Key == "name" || f.Key == "system" || !f.Matters(d.Beds[0]) {
					continue
				}
				for _, e := range edgesOf(d, region, f) {
					if n++; n%every > 0 {
						continue
					}
					next, err := design.Apply(d, region, e)
					if err != nil {
						continue
					}
					p, err := plan.Make(next, shop)
					if len(design.Refusals(err)) > 0 { // too much for one plan
						continue
					}
					if err != nil {
						t.Fatal(err)
					}
					var b bytes.Buffer
					if err := WritePack(&b, p, Pack{Size: []paper.Size{paper.A4, paper.Letter}[n%2]}); err != nil {
						t.Errorf("%s %s, %v: %v", region.ID, system.Name, e, err)
					}
					for _, r := range paper.Lacking(b.Bytes()) {
						if !strings.ContainsRune(d.Name+d.Beds[0].Name, r) {
							t.Errorf("%s %s, %v: %q cannot be set", region.ID, system.Name, e, r)
						}
					}
				}
			}
		}
	}
	if n < 1500 {
		t.Errorf("only %d", n)
	}
	t.Log(n/every, "packs")
}

// Six beds on paper.
func BenchmarkPackOfSixBeds(b *testing.B) {
	shop, err := plan.ShopFor("us")
	if err != nil {
		b.Fatal(err)
	}
	d, err := design.ExampleNamed("boarded", shop.Catalog)
	if err != nil {
		b.Fatal(err)
	}
	for range 5 {
		if d, err = design.Apply(d, shop.Catalog, design.Edit{Bed: "b1", Field: "copy-bed"}); err != nil {
			b.Fatal(err)
		}
	}
	p, err := plan.Make(d, shop)
	if err != nil {
		b.Fatal(err)
	}
	for b.Loop() {
		packOf(b, p, Pack{})
	}
}
