package export

import (
	"crypto/sha256"
	"fmt"
	"io"
	"strings"

	"chamfer/core/measure"
	"chamfer/core/plan"
	"chamfer/core/review"
	"chamfer/draw"
	"chamfer/paper"
)

// Pack says how a pack is printed.
type Pack struct {
	Size paper.Size // "" for what the region uses
	Of   string     // the day of the design, in words; "" where a file does not know it
}

// The pack is everything on paper: what is bought, cut, set out, drilled, done, filled, and why. Its parts come in the
// order they are needed.
var packParts = []func(*packer) error{
	(*packer).cover, (*packer).shopping, (*packer).cutSheet, (*packer).settingOut, (*packer).joints,
	(*packer).templates, (*packer).steps, (*packer).filling, (*packer).planting, (*packer).calendar, (*packer).cautions,
	(*packer).whys,
}

// packer is a pack that is being written.
type packer struct {
	*paper.Pages
	p       *plan.Plan
	pr      measure.Precision
	speaker []string // names that people gave, which are never reworded
	day     string
}

// WritePack writes a plan as one PDF for the shop, the saw and the drive. The same plan gives the same bytes.
func WritePack(w io.Writer, p *plan.Plan, o Pack) error {
	size := o.Size
	if size == "" {
		size = UsualPaper(p)
	}
	mark, err := packMark(p)
	if err != nil {
		return err
	}
	day := "Design " + mark
	if o.Of != "" {
		day += ", of " + o.Of
	}
	k := &packer{Pages: paper.New(size, p.Design.Name, p.Design.Name+" · "+day), p: p, pr: p.Shop.Precision(),
		speaker: InMarkup(p), day: day}
	for _, part := range packParts {
		if err := part(k); err != nil {
			return fmt.Errorf("pack of %s: %w", p.Design.Name, err)
		}
	}
	return k.Write(w)
}

// UsualPaper is what a plan's region prints on.
func UsualPaper(p *plan.Plan) paper.Size {
	if p.Shop.Catalog.System == measure.Imperial {
		return paper.Letter
	}
	return paper.A4
}

// packMark tells two designs apart: sheets that bear the same are of the same design.
func packMark(p *plan.Plan) (string, error) {
	raw, err := Project{Design: p.Design, Habits: &p.Shop.Habits}.Encode()
	if err != nil {
		return "", err
	}
	sum := sha256.Sum256(raw)
	return fmt.Sprintf("%x-%x", sum[:2], sum[2:4]), nil
}

// say is how the region says it.
func (k *packer) say(format string, args ...any) string {
	if len(args) > 0 {
		format = fmt.Sprintf(format, args...)
	}
	return k.p.Say(format)
}

// drawn sets a drawing, at most so many millimetres high.
func (k *packer) drawn(svg string, most float64) error {
	if svg == "" {
		return nil
	}
	return k.Drawing(k.worded(svg), most)
}

func (k *packer) worded(svg string) string {
	return string(k.p.Shop.Speech().Markup([]byte(svg), k.speaker...))
}

// cover shows what it is going to be.
func (k *packer) cover() error {
	k.Sheet("")
	k.Title(k.p.Design.Name)
	var beds []string
	for _, b := range k.p.Design.Beds {
		name := b.Name
		if n := b.Times(); n > 1 {
			name += fmt.Sprintf(", %d of it", n)
		}
		beds = append(beds, name)
	}
	k.Para(strings.Join(beds, " · "))
	k.Small(k.day)
	if err := k.solids(); err != nil {
		return err
	}
	var rows []paper.Row
	for _, f := range k.p.Tally {
		rows = append(rows, paper.Row{Cells: []string{k.say(f.Label), k.say(f.Text)}})
	}
	k.Table([]paper.Column{{Name: "What it comes to", Share: 2}, {Name: "", Share: 3}}, rows)
	var doubts []paper.Row
	for _, f := range k.p.Findings {
		if f.Severity != review.Note && !f.Kept {
			doubts = append(doubts, paper.Row{Cells: []string{k.say(f.Text)}})
		}
	}
	if len(doubts) > 0 {
		k.Table([]paper.Column{{Name: "To mend before it is built", Share: 1}}, doubts)
	}
	return nil
}

// solids are the beds as they will stand: one large, or two in a row.
func (k *packer) solids() error {
	sheet := draw.Sheet{W: 640, H: 400, Font: 17, Plain: true}
	if len(k.p.Frames) == 1 {
		return k.drawn(draw.Bed(k.p, k.p.Frames[0].Bed, draw.Solid, sheet), 105)
	}
	if err := k.drawn(draw.Plot(k.p, draw.Sheet{W: 900, H: 520, Font: 17, Bar: true}), 88); err != nil {
		return err
	}
	half := (k.Width() - 6) / 2
	high := half * sheet.H / sheet.W * 0.7
	for i := range k.p.Frames {
		f := &k.p.Frames[i]
		if i%2 == 0 {
			k.Room(high + 8)
		}
		x, y := k.Side+float64(i%2)*(half+6), k.At()
		k.In(x, half, f.Name, true)
		svg := draw.Bed(k.p, f.Bed, draw.Solid, sheet)
		if err := k.Place(k.worded(svg), x+half*0.15, k.At(), half*0.7); err != nil {
			return err
		}
		k.Go(y)
		if i%2 == 1 || i == len(k.p.Frames)-1 {
			k.Space(high + 10)
		}
	}
	return nil
}
