package export

import (
	"fmt"
	"strings"

	"chamfer/core/measure"
	"chamfer/core/setout"
	"chamfer/draw"
	"chamfer/paper"
)

// settingOut is where the pegs go, bed by bed.
func (k *packer) settingOut() error {
	for i := range k.p.Frames {
		f := &k.p.Frames[i]
		k.Sheet("Setting out: " + f.Name)
		k.Small("Everything is measured from the left end of the base line, with the tape left in place.")
		if err := k.drawn(draw.SetOut(f, k.pr, draw.Sheet{W: 900, H: 560, Font: 17, Bar: true}), 105); err != nil {
			return err
		}
		s := setout.Of(f, k.pr)
		var rows []paper.Row
		add := func(cells ...string) { rows = append(rows, paper.Row{Cells: cells}) }
		table := func(columns ...paper.Column) {
			if len(rows) > 0 {
				k.Table(columns, rows)
			}
			rows = nil
		}
		for _, q := range s.Pegs {
			add(q.Name, k.say(q.What), k.pr.Feet(q.Along), k.pr.Feet(q.Out))
		}
		table(paper.Column{Name: "peg", Share: 1}, paper.Column{Name: "", Share: 5},
			paper.Column{Name: "along", Share: 2, Num: true}, paper.Column{Name: "out", Share: 2, Num: true})
		for _, c := range s.Checks {
			add("", c.From+" to "+c.To, k.pr.Feet(c.Length))
		}
		for _, c := range s.Strings {
			add("", k.say("string from %s to %s", c.Peg, c.What), k.pr.Feet(c.Length))
		}
		table(paper.Column{Tick: true, Share: 0.5}, paper.Column{Name: "must come out", Share: 6},
			paper.Column{Share: 2, Num: true})
		for _, c := range s.Courses {
			height := k.pr.Feet(c.Top)
			if c.Below() > 0 {
				height = k.pr.Feet(c.Below()) + " below"
			}
			name := fmt.Sprintf("top of course %d", c.Number)
			if c.Wall != "" {
				name = c.Wall + ", " + name
			}
			add(k.say(name), height)
		}
		table(paper.Column{Name: "above the ground", Share: 6}, paper.Column{Share: 2, Num: true})
		for _, r := range s.First {
			kind := fmt.Sprintf("%d × %s", r.Count, r.Kind)
			if r.Cut > 0 {
				kind += ", cut to " + k.pr.Short(r.Cut)
			}
			add(k.say(r.Wall), k.say(kind))
		}
		table(paper.Column{Name: "the first course, as it is laid", Share: 3}, paper.Column{Share: 4})
		if cut := draw.Section(f, k.pr, draw.Sheet{W: 900, H: 420, Font: 17, Bar: true}); cut != "" {
			if err := k.drawn(cut, 80); err != nil {
				return err
			}
		}
		k.Small(k.say("Before you dig, find out what pipes and cables run there: a cable cut with a spade can kill. Local" +
			" rules say whom to ask."))
	}
	return nil
}

// joints are how they are made.
func (k *packer) joints() error {
	list := k.p.Fixings.Details(k.p.Frames, k.p.Shop.Catalog)
	if len(list) == 0 {
		return nil
	}
	k.Sheet("How the joints are made")
	for _, d := range list {
		svg := draw.Joint(d, k.pr, draw.Sheet{W: 420, H: 170, Font: 12.5})
		wide := k.Width() * 0.52
		high := paper.High(svg, wide)
		k.Room(high + 12)
		k.Bold(k.say(upper(string(d.Kind))))
		y := k.At()
		if err := k.Place(k.worded(svg), k.Side, y, wide); err != nil {
			return err
		}
		k.Go(y + 3)
		k.In(k.Side+wide+4, k.Width()-wide-4, k.say(strings.Join(d.Words(k.pr), " ")), false)
		k.Go(max(k.At(), y+high) + 3)
	}
	return nil
}

// templates are laid on the piece and pricked through.
func (k *packer) templates() error {
	type of struct{ name, svg string }
	var list []of
	for _, d := range k.p.Fixings.Details(k.p.Frames, k.p.Shop.Catalog) {
		if svg := draw.Template(d, k.pr); svg != "" {
			list = append(list, of{fmt.Sprintf("%s, %s", upper(string(d.Kind)), measure.Count(d.Joints, "joint")), svg})
		}
	}
	seen := map[string]bool{}
	for i := range k.p.Frames {
		for _, part := range k.p.Frames[i].Parts {
			for n, notch := range part.Notches {
				svg := draw.NotchTemplate(part, notch, k.pr)
				if seen[svg] {
					continue
				}
				seen[svg] = true
				list = append(list, of{svg: svg,
					name: fmt.Sprintf("Notch %d of piece %s, %s", n+1, part.Letter, k.p.Frames[i].Name)})
			}
		}
	}
	if len(list) == 0 {
		return nil
	}
	k.Sheet("Templates, full size")
	k.Para(k.say("Print this sheet at 100 %, not fitted to the page. Hold a rule against the one below: where they" +
		" differ, measure instead. Cut along an edge, lay it on the piece, and prick through the crosses."))
	if err := k.FullSize("", draw.Ruler(k.pr.System)); err != nil {
		return err
	}
	for _, t := range list {
		if err := k.FullSize(k.say(t.name), k.worded(t.svg)); err != nil {
			return err
		}
	}
	return nil
}

func upper(s string) string {
	if s == "" {
		return ""
	}
	return strings.ToUpper(s[:1]) + s[1:]
}
