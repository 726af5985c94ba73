package web

import (
	"bytes"
	"io"
	"os/exec"
	"strings"
	"testing"

	"github.com/go-rod/rod/lib/proto"
)

// Every page on paper, A4 and Letter, as Chromium prints it and Poppler reads it: nothing asks why there, no button
// stays, totals stand once and at the end, all steps are there and not the one that is open, the page is not a phone's,
// and each has its way to the printer.
func TestPagesOnPaper(t *testing.T) {
	b := browser(t)
	s := newSite(t)
	text := func(path string, w, h float64) (words string, sheets int) {
		p := s.tab(b, path, 1280, 800)
		defer p.MustClose()
		if path != "/p/3/set-out" {
			p.until(`() => !!document.querySelector('[data-print]')`)
		}
		p.MustEval(`() => document.fonts.ready.then(() => 1)`)
		raw, err := p.PDF(&proto.PagePrintToPDF{PrintBackground: true, PaperWidth: &w, PaperHeight: &h})
		if err != nil {
			t.Fatal(err)
		}
		pdf, err := io.ReadAll(raw)
		if err != nil {
			t.Fatal(err)
		}
		c := exec.Command("pdftotext", "-layout", "-", "-")
		c.Stdin = bytes.NewReader(pdf)
		out, err := c.Output()
		if err != nil {
			t.Fatal(err)
		}
		return string(out), strings.Count(string(out), "\f")
	}
	const a4w, a4h, letterW, letterH = 210 / 25.4, 297 / 25.4, 8.5, 11
	for _, st := range stages {
		words, sheets := text("/p/3/"+st.Key, a4w, a4h)
		for _, no := range []string{"why?", "Undo", "Write it down", "Done, next step", "Set these", "On my phone",
			"Take it along"} {
			if strings.Contains(words, no) {
				t.Errorf("%s: on paper stands %q", st.Key, no)
			}
		}
		if sheets < 1 || sheets > 20 {
			t.Errorf("%s takes %d sheets", st.Key, sheets)
		}
	}
	squeezed := func(s string) string { return strings.Join(strings.Fields(s), "") }
	plan := s.planOf(3)
	sizes, _ := text("/p/3/bed", a4w, a4h)
	for _, f := range plan.OfSizes("b1") {
		if !strings.Contains(squeezed(sizes), squeezed(f.Label+f.Text)) {
			t.Errorf("%s, %s, is not on paper", f.Label, f.Text)
		}
	}
	notes, _ := text("/p/1/frame", a4w, a4h)
	for _, f := range s.planOf(1).Findings {
		if f.Code == "short-lived" && !strings.Contains(squeezed(notes), squeezed(f.Text)) {
			t.Errorf("a finding is cut short on paper: %s", f.Text)
		}
	}
	words, _ := text("/p/3/build", letterW, letterH)
	for _, st := range plan.Steps {
		if !strings.Contains(squeezed(words), squeezed(plan.Say(st.Title))) {
			t.Errorf("this step is not printed: %s", st.Title)
		}
	}
	words, _ = text("/p/3/bill", letterW, letterH)
	if n := strings.Count(words, "before tax"); plan.Bill.Tax != 0 && n != 1 {
		t.Errorf("the sum stands %d times", n)
	}
	if !strings.Contains(words, "how many") { // as a phone has it there is no head
		t.Error("the bill is laid out for a phone")
	}
	words, _ = text("/p/3/shop", a4w, a4h)
	for _, l := range plan.Bill.Lines {
		if !l.Owned && !strings.Contains(squeezed(words), squeezed(plan.Say(l.Item))) {
			t.Errorf("not on the printed list: %s", l.Item)
		}
	}
}
