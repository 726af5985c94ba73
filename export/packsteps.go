package export

import (
	"fmt"
	"slices"
	"strings"

	"chamfer/core/schedule"
	"chamfer/core/sources"
	"chamfer/core/work"
	"chamfer/draw"
	"chamfer/paper"
)

// steps are all of them, each with what it adds.
func (k *packer) steps() error {
	k.Sheet("Step by step")
	for i, st := range k.p.Steps {
		svg := ""
		switch {
		case st.Sheet != "":
			svg = draw.Lining(k.p, st.Sheet, draw.Sheet{W: 420, H: 260, Font: 13})
		case len(st.Parts) > 0:
			svg = draw.Bed(k.p, st.Bed, draw.Solid, draw.Sheet{W: 420, H: 270, Font: 15, Plain: true, Parts: st.Parts,
				New: st.New})
		}
		wide, high := 0.0, 0.0
		if svg != "" {
			wide = k.Width() * 0.42
			high = paper.High(svg, wide)
		}
		k.Room(max(high, 16) + 12)
		k.HeavyBox(k.say("%d. %s", i+1, st.Title))
		y, sheet := k.At(), k.Page()
		if svg != "" {
			if err := k.Place(k.worded(svg), k.Side+k.Width()-wide, y-5, wide); err != nil {
				return err
			}
		}
		column := k.Width() - wide - 10
		x := k.Side + 7
		lasts, also := schedule.Facts(st)
		k.Aside(x, column, k.say(strings.Join(slices.DeleteFunc([]string{st.Where, lasts, also},
			func(s string) bool { return s == "" }), "; ")))
		for _, w := range st.After {
			if w.Wait.High > 0 {
				k.Flow(x, column, k.say("First wait: %s, %s.", w.Wait.What, w.Wait.Words()), true)
			}
		}
		for _, c := range st.Cautions {
			k.Flow(x, column, k.say(c.Text+" "+c.Why), true)
		}
		for _, d := range st.Do {
			k.Item(x, column, k.say(d))
		}
		if len(st.Have) > 0 {
			k.Aside(x, column, k.say("Have at hand: "+strings.Join(st.Have, ", ")+"."))
		}
		if k.Page() == sheet {
			k.Go(max(k.At(), y-5+high))
		}
		k.Space(3)
	}
	return nil
}

// filling is each bed cut through.
func (k *packer) filling() error {
	if len(k.p.Fill.Laid) == 0 {
		return nil
	}
	k.Sheet("What goes into the beds")
	sys := k.p.Shop.Catalog.System
	for i := range k.p.Frames {
		f := &k.p.Frames[i]
		var rows []paper.Row
		for n := len(k.p.Fill.Laid) - 1; n >= 0; n-- { // the top one first, as it is seen
			if l := k.p.Fill.Laid[n]; l.Bed == f.Bed {
				rows = append(rows, paper.Row{Cells: []string{k.say(l.Words), k.pr.Short(l.Depth), sys.Volume(l.Volume),
					sys.Mass(k.p.Fill.MassOf(l, k.p.Shop.Catalog))}})
			}
		}
		if len(rows) == 0 {
			continue
		}
		k.Sub(f.Name, 60)
		if err := k.drawn(draw.Fill(k.p, f.Bed, draw.Sheet{W: 860, H: 420, Font: 17, Bar: true}), 82); err != nil {
			return err
		}
		k.Table([]paper.Column{{Name: "from the top", Share: 4}, {Name: "deep", Share: 1.5, Num: true},
			{Name: "to bring", Share: 2, Num: true}, {Name: "wet", Share: 2, Num: true}}, rows)
	}
	return nil
}

// planting is what grows in the beds, where it stands, and its year.
func (k *packer) planting() error {
	headed := false
	for i, g := range k.p.Growing {
		if len(g.Patches) == 0 {
			continue
		}
		if !headed {
			k.Sheet("What grows where, and when")
			headed = true
		}
		f := &k.p.Frames[i]
		k.Sub(f.Name, 80)
		if err := k.drawn(draw.Plants(k.p, f.Bed, draw.Sheet{W: 860, H: 440, Font: 17}), 92); err != nil {
			return err
		}
		var rows []paper.Row
		for _, x := range g.Patches {
			seeds, set := x.Seeds()
			apart := k.pr.Feet(x.Crop.Each) + " each way"
			if x.How != "" {
				apart = k.pr.Feet(x.Crop.InRow) + " in rows " + k.pr.Feet(x.Crop.Rows) + " apart"
			}
			rows = append(rows, paper.Row{Cells: []string{k.say(x.Crop.Name), fmt.Sprint(x.Plants() * f.Times), apart,
				k.pr.Feet(x.Crop.SowDeep), numbered(seeds * f.Times), numbered(set * f.Times)}})
		}
		k.Table([]paper.Column{{Name: "crop", Share: 3}, {Name: "plants", Share: 1, Num: true}, {Name: "apart", Share: 3},
			{Name: "sown deep", Share: 1.4, Num: true}, {Name: "seeds", Share: 1, Num: true},
			{Name: "or to buy", Share: 1.2, Num: true}}, rows)
		season := k.p.SeasonOf(f.Bed, k.p.Light().Year)
		if err := k.drawn(draw.Year(draw.YearRows(season.Crops, season.Bed), season.Frosts, draw.Sheet{W: 860, Font: 16}),
			110); err != nil {
			return err
		}
		k.Small(k.say("Pale: sown inside. Brown: sown. Dark: set out. Red: harvested. Outlined: other work, as the" +
			" calendar says. Dashed: the last and the first frost."))
	}
	return nil
}

// calendar is the wall calendar.
func (k *packer) calendar() error {
	list, err := k.p.Schedule(nil)
	if err != nil || len(list.Jobs) == 0 {
		return nil // the calendar's own page says why
	}
	k.Sheet("When it is done")
	svg := draw.Calendar(k.p, list, draw.Sheet{W: 860, Font: 15})
	return k.Tall(k.worded(svg))
}

// cautions is all that can hurt, with its reason.
func (k *packer) cautions() error {
	list := work.Dangers(k.p.Steps)
	if len(list) == 0 {
		return nil
	}
	k.Sheet("What can hurt in this job")
	for _, d := range list {
		k.Bold(k.say(d.Text))
		k.Para(k.say(d.Why))
		k.Small(k.say("At: " + strings.Join(d.Steps, "; ") + "."))
		k.Space(1)
	}
	return nil
}

// whys are how the figures came about, and what they rest on.
func (k *packer) whys() error {
	k.Sheet("Why these figures")
	cited := ""
	for _, f := range k.p.Tally {
		told := k.p.Explain(f.Why)
		k.Bold(k.say(f.Label + ": " + f.Text))
		k.Para(k.say(told.String()))
		if told.Source != "" {
			k.Small(k.say("Source: " + told.Source + "."))
		}
		cited += told.Source + "\n"
	}
	for _, f := range k.p.Findings {
		cited += f.Why.Source + "\n"
	}
	var rows []paper.Row
	for _, w := range sources.List() {
		if strings.Contains(cited, w.Key) {
			rows = append(rows, paper.Row{Cells: []string{w.Name, k.say(w.For), k.say(w.Checked)}})
		}
	}
	if len(rows) > 0 {
		k.Table([]paper.Column{{Name: "work", Share: 3}, {Name: "what is taken from it", Share: 3},
			{Name: "how sure", Share: 3}}, rows)
	}
	return nil
}
