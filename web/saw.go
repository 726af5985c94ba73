package web

import (
	"context"
	"errors"
	"fmt"
	"html/template"
	"maps"
	"net/http"
	"slices"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/measure"
	"chamfer/core/money"
	"chamfer/core/plan"
	"chamfer/draw"
	"chamfer/people"
	"chamfer/store"
)

// saw takes down that a board has been cut, or spoiled, and plans the rest.
func (s *Server) saw(c *gin.Context) {
	p, pl, ok := s.planned(c)
	if !ok {
		return
	}
	shop := pl.Shop
	w := s.where(c, p, c.PostForm)
	w.Stage = "cuts"
	base, ok := s.revision(c)
	if !ok {
		return
	}
	g, err1 := strconv.Atoi(c.PostForm("group"))
	i, err2 := strconv.Atoi(c.PostForm("board"))
	n, err3 := strconv.Atoi(c.PostForm("n"))
	times, err4 := strconv.Atoi(cmpOr(c.PostForm("times"), "1"))
	how := plan.How(c.PostForm("how"))
	edit, err5 := pl.AtSaw(g, i, n, times, how)
	if errors.Join(err1, err2, err3, err4, err5) != nil {
		s.fault(
			c,
			http.StatusBadRequest,
			"There is no such board in this plan.",
			"It may have been planned anew since: go back to the cuts.",
		)
		return
	}
	if stamp := c.PostForm("boards"); stamp != "" && stamp != pl.Cuts[g].Stamp() {
		s.showBench(
			c,
			http.StatusConflict,
			p,
			shop,
			w,
			base,
			refused{
				notice: "These boards have been planned anew since this page was shown. Nothing was taken down: look" +
					" at the cuts below and press again.",
			},
		)
		return
	}
	next, err := design.Apply(p.Design, shop.Catalog, edit)
	if err != nil {
		s.refuse(c, p, shop, w, err, nil)
		return
	}
	made, kept, err := s.admit(next, shop)
	if err != nil {
		s.refuse(c, p, shop, w, err, nil)
		return
	}
	label := map[plan.How]string{plan.Spoiled: "a board is spoiled", plan.Short: "a piece was cut wrong"}[how]
	if label == "" {
		label = "cut " + pl.Cuts[g].Profile.Name
	}
	kept.Edit = store.Edit{By: visitorOf(c).Account, Edits: []design.Edit{edit}}
	var conflict *store.Conflict
	switch err := s.store.Save(p.ID, base, next, label, kept); {
	case errors.As(err, &conflict):
		s.showBench(
			c,
			http.StatusConflict,
			p,
			shop,
			w,
			base,
			refused{
				notice: "This project was changed in another window since this page was shown, and its boards may be" +
					" planned anew. Nothing was taken down: look at the cuts below and press again.",
			},
		)
	case err != nil:
		s.trouble(c, err)
	default:
		s.did(c, label)
		s.after(c, p.ID, w, p.Head, made)
	}
}

// shed puts boards into the shed as they were written down, or takes one out.
func (s *Server) shed(c *gin.Context) {
	p, shop, ok := s.project(c)
	if !ok {
		return
	}
	if ok, err := s.mayShed(c, p.Household, people.TakeDown); err != nil || !ok {
		if err != nil {
			s.trouble(c, err)
			return
		}
		s.fault(c, http.StatusForbidden, "The shed is the household's.",
			"Nothing was changed. Its owners and helpers put boards in and take them out.")
		return
	}
	w := s.where(c, p, c.PostForm)
	w.Stage = "cuts"
	if id, err := strconv.ParseInt(c.PostForm("take"), 10, 64); err == nil {
		if err := s.store.TakeOut(p.Household, id, 1); err != nil {
			s.trouble(c, err)
			return
		}
		s.did(c, "a board went out of the shed")
		c.Set(sharedKey, true)
		s.after(c, p.ID, w, w.Since, nil)
		return
	}
	if item := c.PostForm("stuff"); item != "" {
		n, err := strconv.Atoi(strings.TrimSpace(c.PostForm("stuff-n")))
		if err != nil || n < 0 || n > catalog.MostLeft || !shop.Catalog.Counted(item) {
			s.showBench(c, http.StatusUnprocessableEntity, p, shop, w, w.Since, refused{
				values: map[string]string{"stuff": item, "stuff-n": c.PostForm("stuff-n")}, reasons: map[string]string{
					"stuff": fmt.Sprintf("%q is no number of them; 0 to %d works", c.PostForm("stuff-n"), catalog.MostLeft)}})
			return
		}
		if err := s.store.SetStuff(p.Household, p.Design.Region, item, n); err != nil {
			s.trouble(c, err)
			return
		}
		s.did(c, "the shed was counted")
		c.Set(sharedKey, true)
		s.after(c, p.ID, w, w.Since, nil)
		return
	}
	var list []catalog.Leftover
	typed := c.PostForm("leftover")
	for _, line := range strings.FieldsFunc(typed, func(r rune) bool { return r == '\n' || r == ';' }) {
		if strings.TrimSpace(line) == "" {
			continue
		}
		l, err := p.Design.Catalog(shop.Catalog).ParseLeftover(line)
		if err != nil {
			no := refused{
				values:  map[string]string{"leftover": typed},
				reasons: map[string]string{"leftover": err.Error()},
			}
			s.showBench(c, http.StatusUnprocessableEntity, p, shop, w, w.Since, no)
			return
		}
		list = append(list, l)
	}
	switch err := s.store.Stow(p.Household, p.Design.Region, list...); {
	case errors.Is(err, store.ErrShedFull):
		no := refused{values: map[string]string{"leftover": typed}, reasons: map[string]string{"leftover": err.Error()}}
		s.showBench(c, http.StatusUnprocessableEntity, p, shop, w, w.Since, no)
		return
	case err != nil:
		s.trouble(c, err)
		return
	}
	s.did(c, "boards came into the shed")
	c.Set(sharedKey, true)
	s.after(c, p.ID, w, w.Since, nil)
}

// away ends the cutting: what is left goes into the shed.
func (s *Server) away(c *gin.Context) {
	p, pl, ok := s.planned(c)
	if !ok {
		return
	}
	w := s.where(c, p, c.PostForm)
	w.Stage = "cuts"
	left, taken := pl.Leaves()
	goods, err := s.store.Goods(asked(c), p.ID)
	if err != nil {
		s.trouble(c, err)
		return
	}
	var shares []store.Shelved
	for _, x := range pl.Shares(goodsOf(goods)) {
		shares = append(shares, store.Shelved{Item: x.Item, Took: x.Owned, Put: x.Left})
	}
	if _, err := s.store.PutAway(p.ID, p.Design.Region, taken, left, shares...); err != nil {
		s.trouble(c, err)
		return
	}
	s.did(c, "leftovers went into the shed")
	c.Set(sharedKey, true)
	s.after(c, p.ID, w, w.Since, nil)
}

// shedView is what the shed holds, on the cuts page.
type shedView struct {
	Hidden      bool // whoever looks is not of the household
	Lines       []shedLine
	Text, Error string
	Example     string
	Away        bool // the job's leftovers are in it
	Leaves      []string
	Stuff       []stuffLine // beside boards
	Worth       string      // of all of it, at the shop's prices
}

// stuffLine is so many of something that is no board.
type stuffLine struct {
	Item, ID, Name, Worth string
	N, Error              string
}

type shedLine struct {
	ID   int64
	Text string
	For  []string // what of it is kept for which project
}

func (b *benchPage) shedView(ctx context.Context, s *Server, no refused) (shedView, error) {
	cat, pr := b.Plan.Shop.Catalog, b.Plan.Shop.Precision()
	v := shedView{
		Text:    no.values["leftover"],
		Error:   no.why("leftover"),
		Example: "3 of 2x6 cedar 41 in, one cracked end",
	}
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
		if l.Width > 0 {
			text += " × " + pr.Short(l.Width)
		}
		if l.Note != "" {
			text += ", " + l.Note
		}
		if off := l.Off(pr); off != "" {
			text += " (" + off + ")"
		}
		return text
	}
	var err error
	if v.Away, err = s.store.IsPutAway(ctx, b.ID); err != nil {
		return v, err
	}
	_, taken := b.Plan.Leaves()
	if v.Away {
		taken = nil
	}
	all, err := s.store.Shed(ctx, b.Project.Household, b.Plan.Design.Region)
	if err != nil {
		return v, err
	}
	claims, err := s.store.OthersClaims(ctx, b.ID)
	if err != nil {
		return v, err
	}
	for _, l := range all {
		line := shedLine{ID: l.ID, Text: words(l)}
		if n := taken[l.ID]; n > 0 {
			line.For = append(line.For, fmt.Sprintf("%d for this project", n))
		}
		for _, c := range claims {
			if c.Leftover == l.ID {
				line.For = append(line.For, fmt.Sprintf("%d for %s", c.Boards, c.Name))
			}
		}
		v.Lines = append(v.Lines, line)
	}
	left, _ := b.Plan.Leaves()
	for _, l := range left {
		v.Leaves = append(v.Leaves, words(l))
	}
	goods, err := s.store.Goods(ctx, b.ID)
	if err != nil {
		return v, err
	}
	for _, x := range b.Plan.Shares(goodsOf(goods)) {
		if x.Left > 0 {
			v.Leaves = append(v.Leaves, fmt.Sprintf("%d × %s", x.Left, x.Name))
		}
	}
	stuff, err := s.store.Stuff(ctx, b.Project.Household, b.Plan.Design.Region)
	if err != nil {
		return v, err
	}
	worth := money.Amount(0)
	for _, l := range all {
		worth += b.Plan.Shop.WorthOf(l)
	}
	for _, item := range slices.Sorted(maps.Keys(stuff)) {
		is := b.Plan.Shop.Worth(item, stuff[item])
		worth += is
		line := stuffLine{item, catalog.Slug(item), b.Plan.HaveName(item), b.P.Money(is), fmt.Sprint(stuff[item]), ""}
		if no.values["stuff"] == item {
			line.N, line.Error = no.values["stuff-n"], sentence(no.why("stuff"))
		}
		v.Stuff = append(v.Stuff, line)
	}
	if worth > 0 {
		v.Worth = b.P.Money(worth)
	}
	return v, nil
}

// setupView is all pieces of one length, for a stop block.
type setupView struct {
	Length string
	Count  int
	Of     string // letters and how many of each, blanks
	Stop   template.HTML
}

func setups(c plan.Cuts, full measure.Length, pr measure.Precision) []setupView {
	var list []setupView
	for _, s := range c.Setups() {
		stop := template.HTML(draw.Stop(s.Length, full, pr, 420))
		list = append(list, setupView{pr.Short(s.Length), s.Count, s.Words(pr), stop})
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
