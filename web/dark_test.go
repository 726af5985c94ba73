package web

import (
	"testing"

	"github.com/go-rod/rod/lib/proto"
)

// Where the machine is set to dark, pages are dark, and as legible: axe finds no contrast that is too small on them.
// Sunlight stays light, and so does paper.
func TestDark(t *testing.T) {
	b := browser(t)
	s := newSite(t)
	p := s.tab(b, "/p/2/bed", 1280, 800)
	dark := proto.EmulationSetEmulatedMedia{Features: []*proto.EmulationMediaFeature{{Name: "prefers-color-scheme",
		Value: "dark"}}}
	if err := dark.Call(p); err != nil {
		t.Fatal(err)
	}
	ground := func() string {
		return p.MustEval(`() => getComputedStyle(document.documentElement).getPropertyValue('--paper').trim()`).String()
	}
	for _, path := range []string{"/p/2/bed", "/p/3/site", "/p/2/cuts", "/p/3/fill?bed=b3", "/p/3/calendar", "/p/3/build",
		"/p/3/shop", "/p/2/log", "/p/4/frame?view=solid", "/"} {
		p.open(s.URL + path)
		p.until(`() => document.documentElement.classList.contains('js')`)
		if ground() != "#1f1a15" {
			t.Errorf("%s is on %s", path, ground())
		}
		p.clean(path + ", dark")
	}
	p.open(s.URL + "/p/2/bed")
	p.ready("bed")
	p.clickOn(`form[action="/sunlight"] button`)
	p.until(`() => document.documentElement.classList.contains('sunlight')`)
	if ground() == "#1f1a15" {
		t.Error("in sunlight it is dark")
	}
}
