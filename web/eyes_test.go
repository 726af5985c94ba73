package web

import (
	"strings"
	"testing"

	"github.com/go-rod/rod/lib/proto"

	"chamfer/long"
)

// At 200 and 400 percent nothing runs off the side and the tally covers nothing; with the colours of the machine's own
// choosing what is drawn and what is chosen is seen; where motion is not wanted nothing moves; without a script the
// bench is whole.
func TestOtherEyes(t *testing.T) {
	b := browser(t)
	s := newSite(t)
	for k, size := range [][2]int{{640, 400}, {320, 200}} {
		p := s.tab(b, "/p/2/bed", size[0], size[1])
		for i, path := range []string{"/p/2/bed", "/p/3/frame", "/p/2/cuts", "/p/3/bill", "/p/2/build", "/p/3/calendar", "/",
			"/p/2/bed?built=all", "/words"} {
			if !long.Whole() && i%2 != k {
				continue
			}
			p.open(s.URL + path)
			p.until(`() => document.documentElement.classList.contains('js')`)
			p.clean(path + ", zoomed")
			if !p.MustEval(`() => !document.querySelector('.tally') ||
				getComputedStyle(document.querySelector('.tally')).position === 'static'`).Bool() {
				t.Errorf("%s, %d wide: the tally covers what it stands on", path, size[0])
			}
		}
	}

	p := s.tab(b, "/p/2/frame", 1280, 800)
	media := func(name, value string) {
		set := proto.EmulationSetEmulatedMedia{Features: []*proto.EmulationMediaFeature{{Name: name, Value: value}}}
		if err := set.Call(p); err != nil {
			t.Fatal(err)
		}
	}
	media("forced-colors", "active")
	seen := `(selector, property) => {
		const light = (c) => {
			const [r, g, b] = c.match(/[\d.]+/g).map((v) => v / 255)
			const f = (v) => v <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4
			return 0.2126 * f(r) + 0.7152 * f(g) + 0.0722 * f(b)
		}
		const probe = document.createElement('i')
		probe.style.color = 'Canvas'
		document.body.append(probe)
		const ground = light(getComputedStyle(probe).color)
		const el = [...document.querySelectorAll(selector)].find((e) => e.getClientRects().length)
		const line = light(getComputedStyle(el)[property])
		return (Math.max(ground, line) + 0.05) / (Math.min(ground, line) + 0.05)
	}`
	for _, c := range [][3]string{{"/p/2/frame", ".d-dim", "stroke"}, {"/p/2/frame", ".d-tick", "stroke"},
		{"/p/2/frame?view=front", ".d-timber-face", "stroke"}, {"/p/2/frame", ".pick.on", "outlineColor"},
		{"/p/2/cuts", ".d-kerf", "fill"}, {"/p/2/frame", ".d-text", "fill"}} {
		p.open(s.URL + c[0])
		p.until(`(s) => [...document.querySelectorAll(s)].some((e) => e.getClientRects().length)`, c[1])
		if ratio := p.MustEval(seen, c[1], c[2]).Num(); ratio < 3 {
			t.Errorf("with forced colours %s on %s has a contrast of %.1f", c[1], c[0], ratio)
		}
	}
	if p.MustEval(`() => getComputedStyle(document.querySelector('.pick.on, .path [aria-current]')).outlineStyle`).
		String() != "solid" {
		t.Error("with forced colours what is chosen has no outline")
	}
	media("prefers-reduced-motion", "reduce")
	p.open(s.URL + "/p/2/frame")
	p.until(`() => document.documentElement.classList.contains('js')`)
	if n := p.MustEval(`() => document.getAnimations().length + [...document.querySelectorAll('*')].filter((e) =>
		getComputedStyle(e).transitionDuration !== '0s').length`).Int(); n > 0 {
		t.Errorf("%d things move", n)
	}

	// What is heard of a ring: a sentence, and its courses, not its blocks. Each part is reached by the list, too.
	p.open(s.URL + "/p/4/bed?bed=b2")
	p.ready("bed")
	heard := p.MustEval(`() => document.querySelector('.drawing.wide svg').getAttribute('aria-label') + ' | ' +
		[...document.querySelectorAll('.drawing.wide a.part:not([aria-hidden])')].map((a) => a.getAttribute('aria-label'))
			.join('; ')`).String()
	if !strings.Contains(heard, "of soil") || strings.Count(heard, "Course ") != strings.Count(heard, "; ")+1 ||
		strings.Count(heard, "; ") > 8 {
		t.Errorf("of a ring is heard: %s", heard)
	}
	p.MustEval(`() => { document.getElementById('parts-list').open = true }`)
	p.clickOn(".parts-list a")
	p.until(`() => document.querySelector('#inhand .inhand-head')`)
	p.clean("a part taken in hand by the list")

	// The tally folds to what it comes to, and stays so.
	p.clickOn("[data-fold]")
	p.open(s.URL + "/p/2/bed")
	p.until(`() => document.querySelector('[data-fold]')?.ariaExpanded === 'false'`)
	if p.MustEval(`() => document.querySelector('.figure-boards').getClientRects().length +
		Number(!document.querySelector('.figure-total').getClientRects().length)`).Int() != 0 {
		t.Error("folded, the tally is as it was, or has no total")
	}
	p.clean("the tally folded")

	// Two fingers look closer at the drawing, from above and at the solid.
	for _, view := range []string{"above", "solid"} {
		close := s.tab(b, "/p/2/frame?view="+view, 390, 844)
		at := close.MustEval(`() => { const r = document.querySelector('.drawing svg').getBoundingClientRect();
			return [r.x + r.width / 2, r.y + r.height / 2] }`).Arr()
		pinch := proto.InputSynthesizePinchGesture{X: at[0].Num(), Y: at[1].Num(), ScaleFactor: 2}
		if err := pinch.Call(close); err != nil {
			t.Fatal(err)
		}
		if scale := close.MustEval(`() => visualViewport.scale`).Num(); scale < 1.5 {
			t.Errorf("%s: two fingers look closer %.2f times", view, scale)
		}
	}

	plain := s.tab(b, "/", 390, 844)
	if err := (proto.EmulationSetScriptExecutionDisabled{Value: true}).Call(plain); err != nil {
		t.Fatal(err)
	}
	page, _ := s.get("/p/2/frame")
	has(t, page, `<details class="finding`, `class="why asked"`)
	if strings.Contains(page, " hidden>Take it along") {
		t.Error("what needs a script is there")
	}
	page, _ = s.get("/p/2/bed?built=all")
	has(t, page, `name="set"`, `value="system=keyhole"`)
}
