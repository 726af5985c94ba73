// Package paper lays words and drawings out on sheets of A4 or Letter and writes them as one PDF.
//
//	 _______________
//	| Heading       |   what is written goes on below what was written before; what does not fit on
//	| words words   |   the sheet goes to the next whole: a row, a paragraph, a drawing
//	| [drawing]     |
//	|_______________|
//	  name      3 of 9
//
// Lengths are millimetres of paper, x from the left edge and y down from the top one. Drawings are the SVG
// of package draw with its style; they stay lines and letters, at any scale that is asked for. The same
// pages give the same bytes.
package paper

import (
	"bytes"
	"embed"
	"fmt"
	"io"
	"regexp"
	"strconv"
	"strings"
	"time"

	"codeberg.org/go-pdf/fpdf"
)

//go:embed faces/*.ttf
var faces embed.FS

// Size is a size of sheet.
type Size string

// The sizes of sheets (ISO 216; ANSI/ASME Y14.1).
const (
	A4     Size = "a4"
	Letter Size = "letter"
)

// ParseSize reads one; usual is for no words at all.
func ParseSize(s string, usual Size) (Size, error) {
	switch Size(strings.ToLower(strings.TrimSpace(s))) {
	case "":
		return usual, nil
	case A4:
		return A4, nil
	case Letter:
		return Letter, nil
	}
	return "", fmt.Errorf("%q is no size of paper: a4 or letter", s)
}

// Millimetres are the width and the height.
func (s Size) Millimetres() (w, h float64) {
	if s == Letter {
		return 215.9, 279.4
	}
	return 210, 297
}

// Sizes of type, in points, and what a line of it takes, in millimetres.
const (
	small, body, sub, head, title = 8.5, 10.5, 12.5, 17, 30
	point                         = 25.4 / 72
	leading                       = 1.28
)

// Pages are sheets that are being written on.
type Pages struct {
	Side, Top, Bottom float64 // margins

	pdf  *fpdf.Fpdf
	w, h float64
	y    float64 // what is written next begins here
	lack map[rune]bool
}

// New begins; foot stands at the bottom of every sheet, and title is the document's own.
func New(size Size, name, foot string) *Pages {
	p := &Pages{Side: 16, Top: 15, Bottom: 18, lack: map[rune]bool{}}
	p.w, p.h = size.Millimetres()
	p.pdf = fpdf.NewCustom(&fpdf.InitType{UnitStr: "mm", Size: fpdf.SizeType{Wd: p.w, Ht: p.h}})
	p.pdf.SetCatalogSort(true)
	never := time.Date(2000, 1, 1, 0, 0, 0, 0, time.UTC) // the same pages, the same bytes
	p.pdf.SetCreationDate(never)
	p.pdf.SetModificationDate(never)
	p.pdf.SetProducer("Chamfer", true)
	p.pdf.SetTitle(name, true)
	p.pdf.SetLang("en-GB")
	p.pdf.SetAutoPageBreak(false, 0)
	p.pdf.SetMargins(0, 0, 0)
	for _, f := range []struct{ style, file string }{{"", "paper-400"}, {"B", "paper-700"}} {
		raw, err := faces.ReadFile("faces/" + f.file + ".ttf")
		if err != nil {
			panic(err) // it is in the program
		}
		p.pdf.AddUTF8FontFromBytes("paper", f.style, raw)
	}
	p.pdf.AliasNbPages("{of}")
	p.pdf.SetFooterFunc(func() {
		p.face(false, small)
		p.ink(inkSoft)
		p.pdf.Text(p.Side, p.h-9, p.glyphs(foot))
		// What stands for the number of pages is wider than the number, so that it is set from its left.
		at := fmt.Sprintf("page %d of {of}", p.pdf.PageNo())
		p.pdf.Text(p.w-p.Side-p.pdf.GetStringWidth(fmt.Sprintf("page %d of 00", p.pdf.PageNo())), p.h-9, at)
	})
	return p
}

// Sheet turns to a new sheet, with a heading on it where there is one; a reader of the file finds it in
// its outline.
func (p *Pages) Sheet(heading string) {
	p.pdf.AddPage()
	p.y = p.Top
	if heading == "" {
		return
	}
	p.pdf.Bookmark(heading, 0, 0)
	p.y += head * point
	p.face(true, head)
	p.ink(ink)
	p.pdf.Text(p.Side, p.y, p.glyphs(heading))
	p.y += 2.5
	p.pdf.SetLineWidth(0.5)
	p.stroke(ink)
	p.pdf.Line(p.Side, p.y, p.w-p.Side, p.y)
	p.y += 5
}

// Width is between the margins, and Left is what is left of the sheet below what is written.
func (p *Pages) Width() float64 { return p.w - 2*p.Side }

// Left is what is left of the sheet.
func (p *Pages) Left() float64 { return p.h - p.Bottom - p.y }

// Room turns to a new sheet unless h is left of this one; it reports whether it did.
func (p *Pages) Room(h float64) bool {
	if p.Left() >= h {
		return false
	}
	p.Sheet("")
	return true
}

// Space leaves room below.
func (p *Pages) Space(h float64) { p.y += h }

// Page is the number of the sheet.
func (p *Pages) Page() int { return p.pdf.PageNo() }

// At is where what comes next begins; Go lets it begin elsewhere.
func (p *Pages) At() float64 { return p.y }

// Go lets what comes next begin at y.
func (p *Pages) Go(y float64) { p.y = y }

// Write gives the document out.
func (p *Pages) Write(w io.Writer) error {
	if len(p.lack) > 0 {
		var list []string
		for r := range p.lack {
			list = append(list, fmt.Sprintf("U+%04X", r))
		}
		p.pdf.SetSubject(lacking+sorted(list), false)
	}
	return p.pdf.Output(w)
}

// lacking stands before the characters that the face has not: a question mark stands for each.
const lacking = "characters that could not be set: "

// Lacking are the characters that could not be set in a document.
func Lacking(pdf []byte) (list []rune) {
	_, rest, ok := bytes.Cut(pdf, []byte(lacking))
	if !ok {
		return nil
	}
	words, _, _ := bytes.Cut(rest, []byte(")"))
	for word := range strings.FieldsSeq(string(words)) {
		if n, err := strconv.ParseInt(strings.TrimPrefix(word, "U+"), 16, 32); err == nil {
			list = append(list, rune(n))
		}
	}
	return list
}

func (p *Pages) face(bold bool, size float64) {
	style := ""
	if bold {
		style = "B"
	}
	p.pdf.SetFont("paper", style, size)
}

var fraction = regexp.MustCompile(`\b(\d+)/(\d+)\b`)

var (
	raise = strings.NewReplacer("0", "⁰", "1", "¹", "2", "²", "3", "³", "4", "⁴", "5", "⁵", "6", "⁶", "7", "⁷",
		"8", "⁸", "9", "⁹")
	lower = strings.NewReplacer("0", "₀", "1", "₁", "2", "₂", "3", "₃", "4", "₄", "5", "₅", "6", "₆", "7", "₇",
		"8", "₈", "9", "₉")
	// what the face has no character for, as it is said without
	instead = strings.NewReplacer("→", "to", "≤", "at most", "≥", "at least", "≈", "about", "\u202f", " ",
		"\u2011", "-", "✓", "x", "√", "root of ", "π", "pi", "Δ", "d", "⌀", "dia ", "\n", " ", "\t", " ")
)

// glyphs writes a text with the characters of the face: fractions as they are on a rule.
func (p *Pages) glyphs(s string) string {
	s = instead.Replace(s)
	s = fraction.ReplaceAllStringFunc(s, func(f string) string {
		over, under, _ := strings.Cut(f, "/")
		return raise.Replace(over) + "⁄" + lower.Replace(under)
	})
	return strings.Map(func(r rune) rune {
		if covered(r) {
			return r
		}
		p.lack[r] = true
		return '?'
	}, s)
}
