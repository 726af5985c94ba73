package web

import (
	"context"
	"encoding/csv"
	"errors"
	"fmt"
	"html/template"
	"io"
	"math"
	"net/url"
	"slices"
	"strings"

	"github.com/gin-gonic/gin"

	"chamfer/core/design"
	"chamfer/core/ground"
	"chamfer/core/measure"
	"chamfer/core/plan"
	"chamfer/core/terrain"
	"chamfer/draw"
)

// groundStage is what is done below the bed.
var groundStage = stage{Key: "ground", Name: "Ground", About: "How it lies, what to dig, and where it goes",
	Draws: (*benchPage).groundDrawing, Fields: (*benchPage).groundFields, Decides: true,
	Tells: []string{"bank", "falls-along", "levels-guessed", "levels-open", "levels-out", "path-slants",
		"path-steep", "stands-on-fill"},
	Shows: "ground:readings",
	Under: "under-ground", Caption: "the ground from above, and a section", Saves: "ground.svg",
	Body: func(_ context.Context, s *Server, b *benchPage, no refused) (any, error) {
		b.Ground.Sight = b.sight(s, no)
		return nil, nil
	}}

// groundView is what was read of the ground, and what is decided about it.
type groundView struct {
	Levels []levelView // how high each of the bed in hand stands
	Fields []fieldView // of the whole plot
	Rows   []readRow
	Modes  []viewLink
	Mode   string
	Heads  []string
	Error  string
	Runs   []string
	Offers []remedyView // decisions that follow from the ground
	Cut    [4]string
	Read   bool
	Sight  *sightView
	Falls  string // how the plot falls
	Level  string // at which cut equals fill, were it one for all beds
}

type levelView struct {
	Field fieldView
	Typed fieldView
}

// readRow is one line of the book: its cells, those that this way of reading does not show kept
// hidden, and what it comes to.
type readRow struct {
	N      int
	Cells  []readCell
	Height string
	Note   string
}

type readCell struct {
	Name, Label, Value string
	Shown              bool
}

// bookings are the ways to write readings down, with the columns each shows.
var bookings = []struct {
	key, name string
	columns   []string
}{
	{"heights", "as heights", []string{"peg", "right", "out", "height"}},
	{"staff", "level and staff", []string{"peg", "right", "out", "height", "back", "between", "fore"}},
	{"carried", "plank or water tube", []string{"peg", "right", "out", "height", "from", "there", "here"}},
}

// columnLabels are what the columns are called.
var columnLabels = map[string]string{"peg": "Peg", "right": "From the left", "out": "From the front",
	"height": "Height",
	"back":   "Back sight", "between": "Between", "fore": "Fore sight", "from": "Carried from", "there": "Reads there",
	"here": "Reads here"}

// emptyRows is how many empty lines stand below those that are filled in.
const emptyRows = 4

// groundDrawing draws the ground.
func (b *benchPage) groundDrawing(refused) {
	pick := strings.ReplaceAll(b.Link("bed", "WHICH"), "%", "%%")
	pick = strings.Replace(pick, "WHICH", "%s", 1)
	along, ok := b.cut()
	if !ok {
		along = draw.CutLine(b.Plan, b.Bed)
	}
	sheet := draw.Sheet{W: 860, H: 560, Font: 17, Pick: pick, Held: b.Bed}
	b.Wide = template.HTML(draw.Ground(b.Plan, sheet, along))
	sheet.W, sheet.H, sheet.Font = 360, 440, 14
	b.Narrow = template.HTML(draw.Ground(b.Plan, sheet, along))
	pr := b.Plan.Shop.Precision()
	for i, mm := range along {
		b.Ground.Cut[i] = pr.Feet(measure.Length(mm * float64(measure.Millimetre)))
	}
}

// cut is the line of the section that is asked for.
func (w where) cut() (l draw.Line, ok bool) {
	parts := strings.Split(w.Cut, ",")
	if len(parts) != 4 {
		return l, false
	}
	for i, p := range parts {
		if _, err := fmt.Sscanf(p, "%g", &l[i]); err != nil || math.IsNaN(l[i]) || math.Abs(l[i]) > 1e5 {
			return l, false
		}
		l[i] = math.Round(l[i])
	}
	return l, true
}

// typedCut is the line of a section as its form has it, "" where it has none.
func typedCut(get func(string) string, system measure.System) string {
	var parts []string
	for _, key := range []string{"cut-right", "cut-out", "cut-to-right", "cut-to-out"} {
		l, err := measure.Parse(get(key), system)
		if err != nil {
			return ""
		}
		parts = append(parts, fmt.Sprintf("%.0f", l.Millimetres()))
	}
	return strings.Join(parts, ",")
}

// groundFields are the decisions about the ground, and the book of readings.
func (b *benchPage) groundFields(no refused) {
	v := &groundView{Read: b.Plan.Surface != nil}
	b.Ground = v
	g := b.Plan.Design.GroundOr()
	for _, f := range []struct {
		key, label, help string
		of               []design.Choice
		now              string
	}{
		{"earth", "The soil here", "It swells when it is dug, and shrinks when it is trodden down.", design.Earths, g.Earth},
		{"spoil", "Topsoil that is dug", "What comes up with a spade, without the turf.", design.Spoils, g.Spoil},
		{"turf", "Turf that is lifted", "", design.Turfs, g.Turf},
		{"paths", "The paths", "Where the plot's size was said.", design.PathsOf, g.Paths},
		{"edging", "Where the chips end", "Where the paths are covered.", design.Edgings, g.Edging},
		{"even", "From side to side the paths", "", design.Evens, g.Even},
	} {
		if f.key == "even" && len(b.Plan.Walks) == 0 {
			continue
		}
		if f.key == "turf" && b.Plan.Ground.Account.Turf == 0 {
			continue
		}
		fv := fieldView{ID: "ground-" + f.key, Key: "ground:" + f.key, Label: f.label, Help: f.help,
			Kind: design.ChoiceField, Text: f.now}
		for _, c := range f.of {
			cv := &choiceView{Choice: c, Checked: c.Value == f.now}
			if !cv.Checked {
				b.ask(func(o plan.Outcome) { cv.Effect = effect(o.Changes) }, design.Edit{Field: fv.Key, Value: c.Value})
			}
			fv.Choices = append(fv.Choices, cv)
		}
		no.fill(&fv)
		v.Fields = append(v.Fields, fv)
	}
	b.levels(v, no)
	b.book(v, no)
	b.fromGround(v)
}

// levels are how high each of the bed in hand may stand.
func (b *benchPage) levels(v *groundView, no refused) {
	pr, sys := b.Plan.Shop.Precision(), b.Plan.Shop.Catalog.System
	short := func(m float64) string { return pr.Short(measure.Length(math.Round(m * float64(measure.Metre)))) }
	for _, x := range b.Plan.Formations {
		if x.Bed != b.Bed || len(v.Levels) >= 12 {
			continue
		}
		key := fmt.Sprintf("level:%d", x.N)
		lv := levelView{Field: fieldView{ID: fmt.Sprintf("level-%d", x.N), Key: key, Label: "It stands",
			Kind: design.ChoiceField, Text: x.Way}}
		if bed, err := b.Plan.Design.Bed(x.Bed); err == nil && bed.Times() > 1 {
			lv.Field.Label = fmt.Sprintf("Number %d stands", x.N+1)
		}
		for _, o := range x.Offers(b.Plan.Surface) {
			c := o.Choice
			c.Note = fmt.Sprintf("dig %s, fill %s: %s", sys.Volume(measure.CubicMetres(o.Moved.Cut)),
				sys.Volume(measure.CubicMetres(o.Moved.Fill)), c.Note)
			if c.Value != "follow" {
				c.Label += ", " + short(o.To.Z)
			}
			cv := &choiceView{Choice: c, Checked: o.Taken}
			if !o.Taken {
				b.ask(func(o plan.Outcome) { cv.Effect = effect(o.Changes) },
					design.Edit{Bed: b.Bed, Field: key, Value: c.Value})
			}
			lv.Field.Choices = append(lv.Field.Choices, cv)
		}
		no.fill(&lv.Field)
		lv.Typed = fieldView{ID: lv.Field.ID + "-typed", Key: key, Label: "or at a height of", Kind: design.TextField,
			Text: short(x.At()), Was: lv.Field.Was, Error: lv.Field.Error}
		if x.Way == "" {
			lv.Field.Was = x.Way
		}
		if typed, ok := no.values[key]; ok {
			lv.Typed.Text = typed
		}
		lv.Typed.Was = short(x.At())
		lv.Field.Error = ""
		v.Levels = append(v.Levels, lv)
	}
	if s := b.Plan.Surface; s != nil {
		if share, toward := s.Plane.Fall(); share > 0.002 {
			v.Falls = fmt.Sprintf("The plot falls 1 in %.0f towards %s; its pegs are within %s of that plane.", 1/share,
				ground.Direction(toward), short(s.Farthest))
		} else {
			v.Falls = fmt.Sprintf("The plot is level within %s.", short(s.Farthest))
		}
		if len(b.Plan.Formations) > 1 {
			at := ground.Level(s, b.Plan.Formations, ground.EarthOf(b.Plan.Design.GroundOr().Earth).Trodden)
			v.Level = fmt.Sprintf("Were all beds to stand at one height, cut equals fill at %s.", short(at))
		}
	}
}

// book is the table of readings as it was typed, and what they come to.
func (b *benchPage) book(v *groundView, no refused) {
	list := b.Plan.Design.GroundOr().Readings
	var rows [][]string
	for _, r := range list {
		rows = append(rows, design.ReadingRow(r, func(l measure.Length) string {
			if pr := b.Plan.Shop.Precision(); pr.Exact(l) && l > 0 {
				return pr.Feet(l)
			}
			return l.String()
		}))
	}
	if typed, ok := no.values["ground:readings"]; ok {
		v.Error = no.why("ground:readings")
		r := csv.NewReader(strings.NewReader(typed))
		r.FieldsPerRecord = -1
		if all, err := r.ReadAll(); err == nil && len(all) > 0 && slices.Equal(all[0], design.ReadingColumns()) {
			rows = all[1:]
		}
	}
	v.Mode = b.Book
	if !slices.ContainsFunc(bookings, func(k struct {
		key, name string
		columns   []string
	}) bool {
		return k.key == v.Mode
	}) {
		v.Mode = bookedAs(list)
	}
	var shown []string
	for _, k := range bookings {
		v.Modes = append(v.Modes, viewLink{k.name, b.Link("book", k.key), k.key == v.Mode})
		if k.key == v.Mode {
			shown = k.columns
		}
	}
	for _, c := range shown {
		v.Heads = append(v.Heads, columnLabels[c])
	}
	pr := b.Plan.Shop.Precision()
	filled := len(rows)
	rows = append(rows, b.suggested(rows)...)
	for len(rows) < filled+emptyRows {
		rows = append(rows, nil)
	}
	for i, cells := range rows {
		row := readRow{N: i + 1}
		for k, c := range design.ReadingColumns() {
			cell := readCell{Name: "r-" + c, Label: columnLabels[c], Shown: slices.Contains(shown, c)}
			if k < len(cells) {
				cell.Value = cells[k]
			}
			row.Cells = append(row.Cells, cell)
		}
		if i < len(b.Plan.Survey.Lines) && v.Error == "" {
			l := b.Plan.Survey.Lines[i]
			row.Height = pr.Short(l.Height)
			if l.Again && l.Off != 0 {
				row.Note = "read " + pr.Short(l.Off) + " off"
			} else if l.Shared != 0 {
				row.Note = pr.Short(l.Shared) + " shared out"
			}
		}
		v.Rows = append(v.Rows, row)
	}
	for _, run := range b.Plan.Survey.Runs {
		v.Runs = append(v.Runs, b.runWords(run))
	}
}

// runWords says what a run of staff sights comes to, with its checks.
func (b *benchPage) runWords(run terrain.Run) string {
	pr, lines := b.Plan.Shop.Precision(), b.Plan.Survey.Lines
	words := fmt.Sprintf("%s to %s, %s: back sights %s less fore sights %s, rises %s less falls %s",
		lines[run.First].Peg, lines[run.Last].Peg, measure.Count(run.SetUps, "set-up"), pr.Short(run.Back),
		pr.Short(run.Fore), pr.Short(run.Rise), pr.Short(run.Fall))
	if !run.Closed {
		return words + ". It is open: read the first peg once more at its end."
	}
	words += fmt.Sprintf("; it closes to %s, and %s is allowed", pr.Short(run.Misclosure), pr.Short(run.Allowed))
	if run.Shared {
		return words + ": shared out."
	}
	return words + ": too much, read it again."
}

// bookedAs is how readings were taken.
func bookedAs(list []terrain.Reading) string {
	for _, r := range list {
		switch {
		case r.Back != nil || r.Between != nil || r.Fore != nil:
			return "staff"
		case r.From != "":
			return "carried"
		}
	}
	return bookings[0].key
}

// suggested are pegs at the corners of the bed in hand, where nothing was read yet.
func (b *benchPage) suggested(rows [][]string) [][]string {
	if len(rows) > 0 {
		return nil
	}
	i, ok := b.Plan.Site.Stand(b.Bed, 0)
	if !ok {
		return nil
	}
	s, pr := b.Plan.Site.Stands[i], b.Plan.Shop.Precision()
	var list [][]string
	for k, at := range [][2]measure.Length{{s.Lo.U, s.Lo.V}, {s.Hi.U, s.Lo.V}, {s.Hi.U, s.Hi.V}, {s.Lo.U, s.Hi.V}} {
		list = append(list, []string{string(rune('A' + k)), pr.Feet(at[0]), pr.Feet(at[1])})
	}
	return list
}

// fromGround are decisions of the bed in hand that follow from the ground.
func (b *benchPage) fromGround(v *groundView) {
	for _, o := range b.Plan.FromGround(b.Bed) {
		rv := remedyView{Label: o.Label}
		for _, e := range o.Edits {
			rv.Set = append(rv.Set, e.Bed+">"+e.Field+"="+e.Value)
		}
		v.Offers = append(v.Offers, rv)
	}
}

// bookOf is the book of a form as a file has it: lines of which nothing is filled in but what was
// suggested are left out.
func bookOf(form url.Values) string {
	var b strings.Builder
	w := csv.NewWriter(&b)
	_ = w.Write(design.ReadingColumns()) // a builder never fails
	for i := range form["r-peg"] {
		var row []string
		read := false
		for k, c := range design.ReadingColumns() {
			cell := ""
			if list := form["r-"+c]; i < len(list) {
				cell = strings.TrimSpace(list[i])
			}
			row = append(row, cell)
			read = read || k > 2 && cell != ""
		}
		if suggested := i < 4 && row[0] == string(rune('A'+i)); read || strings.Join(row, "") != "" && !suggested {
			_ = w.Write(row)
		}
	}
	w.Flush()
	return b.String()
}

// readings takes a file of readings in place of those there are.
func (s *Server) readings(c *gin.Context) {
	file, _, err := c.Request.FormFile("file")
	text := ""
	if err == nil {
		raw, fault := io.ReadAll(io.LimitReader(file, maxForm))
		err = errors.Join(fault, file.Close())
		text = string(raw)
	}
	if err != nil {
		s.fault(c, 422, "No file was chosen.", "Nothing was changed: choose a file of readings, readings.csv.")
		return
	}
	c.Request.PostForm.Set("ground:readings", text)
	c.Request.PostForm.Set("was:ground:readings", "\x00")
	s.edit(c)
}
