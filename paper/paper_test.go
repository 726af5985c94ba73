package paper

import (
	"bytes"
	"fmt"
	"image"
	_ "image/png"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"chamfer/core/design"
	"chamfer/core/plan"
	"chamfer/draw"
)

// Every view of every example is set on paper: no element, path or style of a drawing is unknown here.
func TestEveryDrawing(t *testing.T) {
	n := 0
	for i, e := range design.Examples() {
		p := planned(t, []string{"us", "metric"}[i%2], e.Name)
		pages := New(A4, e.Name, "")
		set := func(svg string) {
			if svg == "" {
				return
			}
			n++
			pages.Sheet("")
			if err := pages.Drawing(svg, 200); err != nil {
				t.Errorf("%s: %v", e.Name, err)
			}
		}
		s := draw.Sheet{W: 620, H: 420, Font: 15, Bar: true}
		for _, v := range draw.Views {
			set(draw.Bed(p, "", v.View, s))
		}
		set(draw.Plot(p, s))
		set(draw.Ground(p, s, draw.CutLine(p, "b1")))
		set(draw.Water(p, s))
		set(draw.Finish(p, "b1", s))
		for _, c := range p.Ground.Covers {
			set(draw.Lining(p, c.Sheet.ID, s))
		}
		var b bytes.Buffer
		if err := pages.Write(&b); err != nil {
			t.Errorf("%s: %v", e.Name, err)
		}
	}
	if n < 250 {
		t.Errorf("only %d drawings", n)
	}
}

func planned(t *testing.T, region, name string) *plan.Plan {
	t.Helper()
	shop, err := plan.ShopFor(region)
	if err != nil {
		t.Fatal(err)
	}
	d, err := design.ExampleNamed(name, shop.Catalog)
	if err != nil {
		t.Fatal(err)
	}
	p, err := plan.Make(d, shop)
	if err != nil {
		t.Fatal(err)
	}
	return p
}

// What stands on paper is what a browser shows: a drawing set by Chromium from its SVG and by Poppler from the PDF,
// dot by dot, is as light or dark but for few dots, letters among them, which are of another face there.
func TestPaperIsTheDrawing(t *testing.T) {
	const w, h = 620, 420
	for _, x := range []struct {
		name, region string
		views        []draw.View
	}{{"boarded", "us", []draw.View{draw.Solid, draw.Above}}, {"ring", "metric", []draw.View{draw.Front}},
		{"keyhole", "us", []draw.View{draw.Above}}, {"sleeper", "metric", []draw.View{draw.Front}}} {
		p := planned(t, x.region, x.name)
		for _, v := range x.views {
			svg := draw.Bed(p, "", v, draw.Sheet{W: w, H: h, Font: 15, Own: true, Bar: true})
			white := strings.NewReplacer("--paper: #f6efdf", "--paper: #ffffff", "--leaf: #fdf9ee", "--leaf: #ffffff")
			dir := t.TempDir()
			file := filepath.Join(dir, "drawing.svg")
			if err := os.WriteFile(file, []byte(white.Replace(svg)), 0o644); err != nil {
				t.Fatal(err)
			}
			shot := filepath.Join(dir, "browser.png")
			execute(t, nil, "chromium", "--headless", "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run",
				"--disable-background-networking", "--disable-component-update", "--disable-sync", "--hide-scrollbars",
				"--user-data-dir="+filepath.Join(dir, "profile"), fmt.Sprintf("--window-size=%d,%d", w, h),
				"--screenshot="+shot, "file://"+file)
			pages := New(A4, "", "")
			pages.Side = 0
			pages.Sheet("")
			if err := pages.Place(svg, 0, 0, w*PerPixel); err != nil {
				t.Fatal(err)
			}
			var pdf bytes.Buffer
			if err := pages.Write(&pdf); err != nil {
				t.Fatal(err)
			}
			base := filepath.Join(dir, "paper")
			execute(t, pdf.Bytes(), "pdftoppm", "-r", "96", "-png", "-singlefile", "-", base)
			off, dark := differ(picture(t, shot), picture(t, base+".png"), w, h)
			t.Logf("%s, %s: %.2f %% of the dots differ, %.0f %% are not white", x.name, v, off, dark)
			if off > 1.6 || dark < 3 {
				t.Errorf("%s, %s: %.2f %% of the dots differ, %.0f %% are not white", x.name, v, off, dark)
			}
		}
	}
}

func execute(t *testing.T, in []byte, name string, args ...string) {
	t.Helper()
	c := exec.Command(name, args...)
	c.Stdin = bytes.NewReader(in)
	if out, err := c.CombinedOutput(); err != nil {
		t.Fatalf("%s: %v: %s", name, err, out)
	}
}

func picture(t *testing.T, file string) image.Image {
	t.Helper()
	f, err := os.Open(file)
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

// differ counts dots whose like is nowhere within a dot of them in the other picture, in hundredths of all, and those
// that are not white.
func differ(a, b image.Image, w, h int) (off, dark float64) {
	at := func(m image.Image, x, y int) [3]int {
		r, g, b, _ := m.At(x, y).RGBA()
		return [3]int{int(r >> 8), int(g >> 8), int(b >> 8)}
	}
	near := func(p, q [3]int) bool {
		for i := range p {
			if d := p[i] - q[i]; d > 56 || d < -56 {
				return false
			}
		}
		return true
	}
	for y := 1; y < h-1; y++ {
		for x := 1; x < w-1; x++ {
			p := at(a, x, y)
			if p[0]+p[1]+p[2] < 720 {
				dark++
			}
			found := false
			for dy := -1; dy <= 1 && !found; dy++ {
				for dx := -1; dx <= 1 && !found; dx++ {
					found = near(p, at(b, x+dx, y+dy))
				}
			}
			if !found {
				off++
			}
		}
	}
	return 100 * off / float64(w*h), 100 * dark / float64(w*h)
}

// A drawing larger than a sheet goes over several, which share a strip to lay them together by, and all of it is on
// one of them.
func TestLargeDrawingIsParted(t *testing.T) {
	for _, c := range []struct{ l, most float64 }{{100, 100}, {101, 100}, {250, 100}, {1000, 178}} {
		n := parts(c.l, c.most)
		if covers := c.most + float64(n-1)*(c.most-overlap); covers < c.l {
			t.Errorf("%v in %d sheets of %v: %v of it", c.l, n, c.most, covers)
		}
		if covers := c.most + float64(n-2)*(c.most-overlap); n > 1 && covers >= c.l {
			t.Errorf("%v takes no %d sheets of %v", c.l, n, c.most)
		}
	}
	pages := New(Letter, "", "")
	pages.Sheet("")
	svg := `<svg viewBox="0 0 1000 1500" width="1000" height="1500"><path class="d-edge" d="M0 0L1000 1500"/></svg>`
	if err := pages.FullSize("long", svg); err != nil {
		t.Fatal(err)
	}
	if n := pages.Page(); n != 5 {
		t.Errorf("265 by 397 mm goes over 4 sheets after the first, not %d", n-1)
	}
}

// However tall a drawing is, it comes to an end, on as many sheets as it takes: 264 mm of one go on each.
func TestTallDrawingEnds(t *testing.T) {
	for tall := 100; tall < 9000; tall += 37 {
		pages := New(A4, "", "")
		pages.Sheet("When it is done")
		svg := fmt.Sprintf(`<svg viewBox="0 0 860 %d"><path class="d-edge" d="M0 0L860 1500"/></svg>`, tall)
		if err := pages.Tall(svg); err != nil {
			t.Fatal(err)
		}
		if most := 2 + float64(tall)*178/860/250; float64(pages.Page()) > most {
			t.Errorf("%d high it goes over %d sheets", tall, pages.Page())
		}
	}
}

// What the paths of a drawing may hold, and what is refused rather than left out.
func TestPaths(t *testing.T) {
	for d, known := range map[string]bool{"M1 2L3 4Z": true, "M1,2l3-4h5v-.5H1V2z": true, "M0 0Q1 1 2 0q1 1 2 0": true,
		"M0 0C1 1 2 1 3 0c1 1 2 1 3 0": true, "M0 0A1 1 0 0 1 2 2": false, "M0 0S1 1 2 2": false, "M0": false,
		"1 2": false, "M0 0L1 x": false} {
		pages := New(A4, "", "")
		pages.Sheet("")
		err := pages.Place(`<svg viewBox="0 0 9 9"><path stroke="#000" d="`+d+`"/></svg>`, 0, 0, 9)
		if (err == nil) != known {
			t.Errorf("%q: %v", d, err)
		}
	}
}
