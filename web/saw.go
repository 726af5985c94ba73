package web

import (
	"encoding/json"
	"errors"
	"fmt"
	"net/http"
	"slices"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"chamfer/core/catalog"
	"chamfer/core/cutting"
	"chamfer/core/design"
	"chamfer/core/measure"
	"chamfer/core/plan"
	"chamfer/store"
)

// sawEdit is what a board that goes to the saw adds to the design.
type sawEdit struct {
	At *int `json:"at,omitempty"`
	design.Sawn
}

// sawn takes n pieces off a board of the plan, in their order. The next piece
// after them may have been cut wrong, or the whole board be spoiled.
func sawn(cuts plan.Cuts, b cutting.Board, n int, how string) sawEdit {
	e := sawEdit{Sawn: design.Sawn{Profile: cuts.Profile.ID, Species: cuts.Species.ID, SKU: b.Stock.ID, Length: b.Stock.Length}}
	if at, err := strconv.Atoi(strings.TrimPrefix(b.Stock.ID, plan.HandStock)); err == nil && strings.HasPrefix(b.Stock.ID, plan.HandStock) {
		e.At = &at
	}
	if len(b.Strips) > 0 || b.Part > 0 { // ripped or parted: it is cut as a whole or not at all
		n = len(b.Cuts)
	}
	n = min(max(n, 0), len(b.Cuts))
	for _, c := range b.Cuts[:n] {
		e.Cuts = append(e.Cuts, design.SawnCut{Length: c.Length, Width: c.Width, Count: c.Out})
	}
	last := n - 1
	if how == "short" && n < len(b.Cuts) {
		last = n
		e.Cuts = append(e.Cuts, design.SawnCut{Length: b.Cuts[n].Length, Waste: true})
	}
	switch end := b.Stock.Length - b.Stock.TrimEnd; {
	case how == "spoil" || len(b.Strips) > 0 || len(b.Left) > 0:
	case last < 0:
		e.Left = end - b.Stock.TrimStart
	default:
		e.Left = max(0, end-b.Cuts[last].End()-cuts.Request.Kerf)
	}
	return e
}

// saw takes down that a board has been cut, or spoiled, and plans the rest.
func (s *Server) saw(c *gin.Context) {
	p, pl, ok := s.planned(c)
	if !ok {
		return
	}
	shop := pl.Shop
	w := s.where(c, p, c.PostForm)
	w.Stage = "cuts"
	base, err := strconv.ParseInt(c.PostForm("rev"), 10, 64)
	if err != nil {
		base = p.Head
	}
	g, err1 := strconv.Atoi(c.PostForm("group"))
	i, err2 := strconv.Atoi(c.PostForm("board"))
	n, err3 := strconv.Atoi(c.PostForm("n"))
	times, err4 := strconv.Atoi(cmpOr(c.PostForm("times"), "1"))
	if errors.Join(err1, err2, err3, err4) != nil || g < 0 || g >= len(pl.Cuts) || i < 0 || i >= len(pl.Cuts[g].Answer.Boards) {
		s.fault(c, http.StatusBadRequest, "There is no such board in this plan.", "It may have been planned anew since: go back to the cuts.")
		return
	}
	cuts, board := pl.Cuts[g], pl.Cuts[g].Answer.Boards[i]
	how := c.PostForm("how")
	var list []sawEdit
	for range min(max(times, 1), board.Count) {
		list = append(list, sawn(cuts, board, n, how))
	}
	raw, err := json.Marshal(list)
	if err != nil {
		s.trouble(c, err)
		return
	}
	next, err := design.Apply(p.Design, shop.Catalog, design.Edit{Field: "saw", Value: string(raw)})
	if err != nil {
		s.showBench(c, http.StatusUnprocessableEntity, p, shop, w, w.Since, refused{notice: reason(err)})
		return
	}
	label := map[string]string{"spoil": "a board is spoiled", "short": "a piece was cut wrong"}[how]
	if label == "" {
		label = fmt.Sprintf("cut %d × %s", len(list), cuts.Profile.Name)
	}
	var conflict *store.Conflict
	switch err := s.store.Save(p.ID, base, next, label); {
	case errors.As(err, &conflict):
		s.showBench(c, http.StatusConflict, p, shop, w, base, refused{notice: "This project was changed in another window since this page was shown, and its boards may be planned anew. Nothing was taken down: look at the cuts below and press again."})
	case err != nil:
		s.trouble(c, err)
	default:
		s.after(c, p, shop, w, p.Head)
	}
}

// shed puts boards into the shed as they were written down, or takes one out.
func (s *Server) shed(c *gin.Context) {
	p, shop, ok := s.project(c)
	if !ok {
		return
	}
	w := s.where(c, p, c.PostForm)
	w.Stage = "cuts"
	again := func() {
		shop, err := s.shop(p.Design.Region)
		if err != nil {
			s.trouble(c, err)
			return
		}
		s.after(c, p, shop, w, w.Since)
	}
	if id, err := strconv.ParseInt(c.PostForm("take"), 10, 64); err == nil {
		if err := s.store.TakeOut(id, 1); err != nil {
			s.trouble(c, err)
			return
		}
		again()
		return
	}
	var list []catalog.Leftover
	typed := c.PostForm("leftover")
	for _, line := range strings.FieldsFunc(typed, func(r rune) bool { return r == '\n' || r == ';' }) {
		if strings.TrimSpace(line) == "" {
			continue
		}
		l, err := shop.Catalog.ParseLeftover(line)
		if err != nil {
			no := refused{values: map[string]string{"leftover": typed}, reasons: map[string]string{"leftover": err.Error()}}
			s.showBench(c, http.StatusUnprocessableEntity, p, shop, w, w.Since, no)
			return
		}
		list = append(list, l)
	}
	if err := s.store.Stow(p.Design.Region, list...); err != nil {
		s.trouble(c, err)
		return
	}
	again()
}

// leaves is what a finished job leaves that is worth keeping, and what it took
// from the shed.
func leaves(pl *plan.Plan) (left []catalog.Leftover, taken map[int64]int) {
	const keep = 300 * measure.Millimetre
	taken = map[int64]int{}
	take := func(sku string, n int) {
		if id, err := strconv.ParseInt(strings.TrimPrefix(sku, plan.ShedStock), 10, 64); err == nil && strings.HasPrefix(sku, plan.ShedStock) {
			taken[id] += n
		}
	}
	for _, c := range pl.Cuts {
		put := func(length measure.Length, n int) {
			if length >= keep {
				left = append(left, catalog.Leftover{Profile: c.Profile.ID, Species: c.Species.ID, Length: length, Quantity: n})
			}
		}
		onHand := map[int]bool{}
		for _, b := range c.Answer.Boards {
			take(b.Stock.ID, b.Count)
			if at, err := strconv.Atoi(strings.TrimPrefix(b.Stock.ID, plan.HandStock)); err == nil && strings.HasPrefix(b.Stock.ID, plan.HandStock) {
				onHand[at] = true
			}
			if len(b.Strips) == 0 {
				put(b.Offcut, b.Count)
			}
		}
		for _, i := range c.Sawn {
			take(pl.Design.Saw[i].SKU, 1)
			if !onHand[i] {
				put(pl.Design.Saw[i].Left, 1)
			}
		}
	}
	return left, taken
}

// away ends the cutting: what is left goes into the shed.
func (s *Server) away(c *gin.Context) {
	p, pl, ok := s.planned(c)
	if !ok {
		return
	}
	w := s.where(c, p, c.PostForm)
	w.Stage = "cuts"
	left, taken := leaves(pl)
	if _, err := s.store.PutAway(p.ID, p.Design.Region, taken, left); err != nil {
		s.trouble(c, err)
		return
	}
	shop, err := s.shop(p.Design.Region)
	if err != nil {
		s.trouble(c, err)
		return
	}
	s.after(c, p, shop, w, w.Since)
}

// shedView is what the shed holds, on the cuts page.
type shedView struct {
	Lines       []shedLine
	Text, Error string
	Example     string
	Away        bool // the job's leftovers are in it
	Leaves      []string
}

type shedLine struct {
	ID   int64
	Text string
}

func (b *benchPage) shedView(s *Server, no refused) (shedView, error) {
	cat, pr := b.Plan.Shop.Catalog, b.Plan.Shop.Precision()
	v := shedView{Text: no.values["leftover"], Error: no.reasons["leftover"], Example: "3 of 2x6 cedar 41 in, one cracked end"}
	if cat.System == measure.Metric {
		v.Example = "3 of 150x38 larch 1050 mm, one cracked end"
	}
	words := func(l catalog.Leftover) string {
		text := fmt.Sprintf("%d × %s", l.Quantity, l.Profile)
		if p, err := cat.Profile(l.Profile); err == nil {
			text = fmt.Sprintf("%d × %s", l.Quantity, p.Name)
		}
		if sp, err := cat.SpeciesOf(l.Species); err == nil {
			text += ", " + sp.Name
		}
		text += ", " + pr.Short(l.Length)
		if l.Note != "" {
			text += ", " + l.Note
		}
		return text
	}
	for _, l := range b.Plan.Shop.Shed {
		v.Lines = append(v.Lines, shedLine{l.ID, words(l)})
	}
	left, _ := leaves(b.Plan)
	for _, l := range left {
		v.Leaves = append(v.Leaves, words(l))
	}
	var err error
	v.Away, err = s.store.IsPutAway(b.ID)
	return v, err
}

// setup is all pieces of one length, for a stop block.
type setup struct {
	Length string
	Count  int
	Of     string // letters and how many of each
}

// setups groups what is still to cut by length, longest first.
func setups(c plan.Cuts, pr measure.Precision) []setup {
	type tally struct {
		count   int
		letters []string
		of      map[string]int
	}
	by := map[measure.Length]*tally{}
	var lengths []measure.Length
	for _, b := range c.Answer.Boards {
		for _, cut := range b.Cuts {
			t := by[cut.Length]
			if t == nil {
				t = &tally{of: map[string]int{}}
				by[cut.Length] = t
				lengths = append(lengths, cut.Length)
			}
			n := b.Count
			t.count += n
			if t.of[cut.Piece] == 0 {
				t.letters = append(t.letters, cut.Piece)
			}
			t.of[cut.Piece] += n
		}
	}
	slices.SortFunc(lengths, func(a, b measure.Length) int { return int(min(max(b-a, -1), 1)) })
	var list []setup
	for _, l := range lengths {
		t := by[l]
		slices.Sort(t.letters)
		var of []string
		for _, letter := range t.letters {
			of = append(of, fmt.Sprintf("%d × %s", t.of[letter], letter))
		}
		list = append(list, setup{pr.Short(l), t.count, strings.Join(of, ", ")})
	}
	return list
}

// sawnView is a board that has been to the saw.
type sawnView struct {
	Name string
	Cuts []string
	Left string
}

func (b *benchPage) sawn(c plan.Cuts) []sawnView {
	pr := b.Plan.Shop.Precision()
	var list []sawnView
	for _, i := range c.Sawn {
		s := b.Plan.Design.Saw[i]
		v := sawnView{Name: fmt.Sprintf("board %d, %s", i+1, pr.Feet(s.Length)), Left: "nothing"}
		if s.Left > 0 {
			v.Left = pr.Short(s.Left)
		}
		for _, cut := range s.Cuts {
			words := pr.Short(cut.Length)
			if cut.Times() > 1 {
				words = fmt.Sprintf("%d × %s", cut.Times(), words)
			}
			if cut.Waste {
				words += ", cut wrong"
			}
			v.Cuts = append(v.Cuts, words)
		}
		list = append(list, v)
	}
	return list
}
