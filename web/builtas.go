package web

import (
	"fmt"
	"html/template"
	"strings"

	"chamfer/core/design"
	"chamfer/core/plan"
	"chamfer/core/review"
	"chamfer/draw"
)

// builtView is what the bed in hand is built as, and, where that was asked for, all it could be.
type builtView struct {
	Title, About, Error string
	All                 string // the address that shows them all
	Close               string // the one that does not
	Groups              []builtGroup
}

type builtGroup struct {
	Name  plan.Group
	Cards []builtCard
}

// builtCard is one system: the same bed, drawn, with what helps to choose.
type builtCard struct {
	Name, Title, About string
	Drawing            template.HTML
	Now                bool
	Total, Years       string
	Hours, Empty       string
	Planting           string // where it is not as much
	Stops, Mends       int
	Worst              string // the first of what stops it or wants mending
	Not                string
}

// builtAs says what the bed in hand is built as; all it could be only where that is asked for.
func (b *benchPage) builtAs(bed design.Bed, no refused) {
	system, _ := design.SystemNamed(bed.System)
	v := &builtView{Title: system.Title, About: system.About, Error: no.why("system"),
		All: b.Link("built", "all") + "#built", Close: b.Link("built", "")}
	b.BuiltAs = v
	if !b.Built {
		return
	}
	pr, st := b.Plan.Shop.Precision(), b.Plan.Shop.Catalog.System
	for _, k := range b.Plan.BuiltAll(b.ctx, bed.ID) {
		c := builtCard{Name: k.System.Name, Title: k.System.Title, About: k.System.About, Now: k.Now}
		if k.Err != nil {
			c.Not = sentence(reason(k.Err))
		} else {
			p := k.Plan
			c.Drawing = template.HTML(draw.Bed(p, "", draw.Solid, draw.Sheet{W: 220, H: 132, Font: 12, Plain: true}))
			c.Total, c.Years = p.Shop.Currency().Format(p.Bill.Total), p.Figure("years").Text
			if len(p.Bill.Without) > 0 { // the rest of it is no price of the bed
				c.Total = "no price"
			}
			c.Hours = fmt.Sprintf("%d–%d h", k.Hours[0], k.Hours[1])
			if k.Hours[0] == k.Hours[1] {
				c.Hours = fmt.Sprintf("%d h", k.Hours[0])
			}
			c.Empty = pr.System.Mass(k.Empty)
			if k.Other {
				c.Planting = st.Area(p.Frames[0].PlantingArea())
			}
			for _, f := range k.Doubts {
				if f.Severity == review.Stop {
					c.Stops++
				} else {
					c.Mends++
				}
			}
			if len(k.Doubts) > 0 {
				c.Worst = shortened(k.Doubts[0].Text)
			}
		}
		if n := len(v.Groups); n == 0 || v.Groups[n-1].Name != k.Group {
			v.Groups = append(v.Groups, builtGroup{Name: k.Group})
		}
		g := &v.Groups[len(v.Groups)-1]
		g.Cards = append(g.Cards, c)
	}
}

// shortened is the first clause of a sentence.
func shortened(text string) string {
	for _, end := range []string{"; ", ". ", ": "} {
		text, _, _ = strings.Cut(text, end)
	}
	return strings.TrimSuffix(text, ".") + "."
}

// heardView is what was understood of the sentence a project was begun with.
type heardView struct {
	Text    string
	Heard   []heardLink
	Refused []string
	Left    string
}

type heardLink struct {
	design.Heard
	Link string // to where it is decided
}

// Heard is what was understood of the sentence that the page was come to with; nil for none.
func (b *benchPage) Heard() *heardView {
	if b.Told == "" {
		return nil
	}
	u, err := design.Understand(b.Told, b.Plan.Design.Name, b.Plan.Shop.Catalog)
	if err != nil {
		return nil
	}
	v := &heardView{Text: b.Told, Refused: u.Refused, Left: strings.Join(u.Left, ", ")}
	for _, h := range u.Heard {
		link := b.Link("built", "")
		if f, ok := design.FieldOf(u.Design.Beds[0], h.Field); ok {
			link = b.Link("stage", string(f.Stage)) + "#f-" + f.Key
		}
		v.Heard = append(v.Heard, heardLink{h, link})
	}
	return v
}
