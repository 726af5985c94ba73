package paper

import (
	"fmt"
	"slices"
	"strings"
	"unicode/utf8"
)

func sorted(list []string) string {
	slices.Sort(list)
	return strings.Join(list, " ")
}

func sheetOf(n, of int) string { return fmt.Sprintf(", sheet %d of %d", n, of) }

// kind of words: how large, how heavy, and what follows.
type kind struct {
	size float64
	bold bool
	ink  colour
	gap  float64
}

// Title is the name of the whole.
func (p *Pages) Title(s string) { p.words(p.Side, p.Width(), s, kind{title, true, ink, 3}) }

// Sub is a heading within a sheet; it stays with at least so much of what comes below.
func (p *Pages) Sub(s string, with float64) {
	p.Room(sub*point*leading + with)
	p.words(p.Side, p.Width(), s, kind{sub, true, ink, 1})
}

// Para is a paragraph, with bold words before it where there are some.
func (p *Pages) Para(s string) { p.words(p.Side, p.Width(), s, kind{body, false, ink, 1.6}) }

// Bold is a paragraph of heavy words.
func (p *Pages) Bold(s string) { p.words(p.Side, p.Width(), s, kind{body, true, ink, 1.2}) }

// Small is a paragraph of what is told beside.
func (p *Pages) Small(s string) { p.words(p.Side, p.Width(), s, kind{small, false, inkSoft, 1.4}) }

// In writes a paragraph in a column that begins at x and is w wide, and does not turn the sheet.
func (p *Pages) In(x, w float64, s string, heavy bool) {
	for _, l := range p.lines(s, w, heavy, body) {
		p.line(x, l, heavy, body, ink)
	}
	p.y += 1
}

// Box is a line with a box to tick before it.
func (p *Pages) Box(s string) { p.boxed(s, false) }

// HeavyBox is one of heavy words.
func (p *Pages) HeavyBox(s string) { p.boxed(s, true) }

func (p *Pages) boxed(s string, heavy bool) {
	lines := p.lines(s, p.Width()-7, heavy, body)
	p.Room(float64(len(lines)) * body * point * leading)
	p.tickbox(p.Side, p.y+body*point*leading-3.9, 3.6)
	for _, l := range lines {
		p.line(p.Side+7, l, heavy, body, ink)
	}
	p.y += 1
}

func (p *Pages) words(x, w float64, s string, k kind) {
	if s == "" {
		return
	}
	for _, l := range p.lines(s, w, k.bold, k.size) {
		p.Room(k.size * point * leading)
		p.line(x, l, k.bold, k.size, k.ink)
	}
	p.y += k.gap
}

func (p *Pages) line(x float64, s string, bold bool, size float64, in colour) {
	p.face(bold, size)
	p.ink(in)
	p.y += size * point * leading
	p.pdf.Text(x, p.y-size*point*(leading-1), s)
}

// lines breaks a text to a width, as glyphs.
func (p *Pages) lines(s string, w float64, bold bool, size float64) (list []string) {
	p.face(bold, size)
	now := ""
	for _, word := range strings.Fields(p.glyphs(s)) {
		for p.pdf.GetStringWidth(word) > w && utf8.RuneCountInString(word) > 1 { // a word longer than a line
			n := len(word)
			for p.pdf.GetStringWidth(word[:n]) > w && utf8.RuneCountInString(word[:n]) > 1 {
				_, size := utf8.DecodeLastRuneInString(word[:n])
				n -= size
			}
			if now != "" {
				list, now = append(list, now), ""
			}
			list, word = append(list, word[:n]), word[n:]
		}
		switch with := now + " " + word; {
		case now == "":
			now = word
		case p.pdf.GetStringWidth(with) <= w:
			now = with
		default:
			list, now = append(list, now), word
		}
	}
	if now != "" {
		list = append(list, now)
	}
	return list
}

// Column is one of a table: its name, its share of the width, and whether it holds numbers, or boxes to
// tick.
type Column struct {
	Name  string
	Share float64
	Num   bool
	Tick  bool
}

// Row is a row of a table: a heading among rows where it is heavy.
type Row struct {
	Cells []string
	Small string // below the first words
	Heavy bool
}

// Table sets rows below columns; its names come again on each sheet.
func (p *Pages) Table(columns []Column, rows []Row) {
	sum := 0.0
	for _, c := range columns {
		sum += c.Share
	}
	x := make([]float64, len(columns)+1)
	x[0] = p.Side
	for i, c := range columns {
		x[i+1] = x[i] + c.Share/sum*p.Width()
	}
	names := func() {
		p.face(true, small)
		p.ink(inkSoft)
		p.y += small * point * leading
		for i, c := range columns {
			p.cell(x[i], x[i+1], p.y-1, p.glyphs(c.Name), c.Num)
		}
		p.y += 1
		p.rule(0.35)
	}
	high := func(r Row) (tall float64, lines [][]string, under []string) {
		first := -1
		for i, c := range columns {
			text := ""
			if i < len(r.Cells) {
				text = r.Cells[i]
			}
			if first < 0 && !c.Tick {
				first = i
			}
			lines = append(lines, p.lines(text, x[i+1]-x[i]-2.5, r.Heavy, body))
			tall = max(tall, float64(len(lines[i]))*body*point*leading)
		}
		if r.Small != "" {
			under = p.lines(r.Small, x[first+1]-x[first]-2.5, false, small)
			tall = max(tall, float64(len(lines[first]))*body*point*leading+float64(len(under))*small*point*leading)
		}
		return tall + 1.6, lines, under
	}
	headed := false
	for i, r := range rows {
		tall, lines, under := high(r)
		need := tall
		if r.Heavy && i+1 < len(rows) { // a heading stays with what it is of
			next, _, _ := high(rows[i+1])
			need += next
		}
		if p.Room(need) || !headed {
			names()
			headed = true
		}
		from, first := p.y, true
		for k, c := range columns {
			switch {
			case c.Tick && !r.Heavy:
				p.tickbox(x[k], from+1.4, 3.6)
			case c.Tick:
			default:
				p.y = from + 0.6
				p.face(r.Heavy, body)
				p.ink(ink)
				for _, l := range lines[k] {
					p.y += body * point * leading
					p.cell(x[k], x[k+1], p.y-body*point*(leading-1), l, c.Num)
				}
				if first {
					for _, l := range under {
						p.line(x[k], l, false, small, inkSoft)
					}
					first = false
				}
			}
		}
		p.y = from + tall
		p.rule(0.12)
	}
	p.y += 3
}

func (p *Pages) cell(from, to, y float64, s string, num bool) {
	if num {
		from = to - 2.5 - p.pdf.GetStringWidth(s)
	}
	p.pdf.Text(from, y, s)
}

func (p *Pages) rule(w float64) {
	p.pdf.SetLineWidth(w)
	p.stroke(line)
	p.pdf.Line(p.Side, p.y, p.w-p.Side, p.y)
}

func (p *Pages) tickbox(x, y, size float64) {
	p.pdf.SetLineWidth(0.3)
	p.stroke(ink)
	p.pdf.Rect(x, y, size, size, "D")
}

// Flow writes a paragraph in a column, on to the next sheet where it has to.
func (p *Pages) Flow(x, w float64, s string, heavy bool) {
	for _, l := range p.lines(s, w, heavy, body) {
		p.Room(body * point * leading)
		p.line(x, l, heavy, body, ink)
	}
	p.y += 1
}

// Item is a paragraph in a column with a dot before it.
func (p *Pages) Item(x, w float64, s string) {
	for i, l := range p.lines(s, w-4, false, body) {
		p.Room(body * point * leading)
		p.line(x+4, l, false, body, ink)
		if i == 0 {
			p.pdf.SetFillColor(inkSoft.r, inkSoft.g, inkSoft.b)
			p.pdf.Circle(x+1.4, p.y-2.2, 0.5, "F")
		}
	}
	p.y += 0.7
}

// Aside is a small paragraph in a column.
func (p *Pages) Aside(x, w float64, s string) {
	for _, l := range p.lines(s, w, false, small) {
		p.Room(small * point * leading)
		p.line(x, l, false, small, inkSoft)
	}
	p.y += 0.8
}
