package web

import (
	"errors"
	"fmt"
	"maps"
	"math"
	"net/http"
	"net/url"
	"slices"
	"strconv"
	"strings"
	"unicode"
	"unicode/utf8"

	"github.com/gin-gonic/gin"

	"chamfer/core/aside"
	"chamfer/core/cost"
	"chamfer/core/design"
	"chamfer/core/measure"
	"chamfer/core/plan"
	"chamfer/people"
	"chamfer/store"
)

// What a form is told whose project was changed since it was made.
const (
	changedElsewhere = "This project was changed in another window since this page was shown. Nothing was" +
		" overwritten: below is how it stands now, with what you typed still in its field. Set it again if you still" +
		" want it."
	changedBy = "This project was changed in another window since this page was shown: %s. Nothing was overwritten:" +
		" below" +
		" is how it stands now, with what you typed still in its field. Set it again if you still want it."
	movedElsewhere = "This project was changed in another window since this page was shown, and nothing was %s:" +
		" below is how it stands now. Press again if you still want it."
)

// edit takes a form of changed fields, or the pairs of a remedy, and saves the
// changed design as a new revision, once it has been planned.
func (s *Server) edit(c *gin.Context) {
	p, shop, ok := s.project(c)
	if !ok {
		return
	}
	base, ok := s.revision(c)
	if !ok {
		return
	}
	form := c.Request.PostForm
	w := s.where(c, p, form.Get)
	from := p // what the form was made from
	if base != p.Head {
		if was, err := s.store.Revision(asked(c), p.ID, base); err == nil && was.Region == p.Design.Region {
			from.Design = was
		}
	}
	edits, label, typed, err := s.edits(from, shop, w, form)
	if !may(c, people.Design) && slices.ContainsFunc(edits, func(e design.Edit) bool { return !e.TakesDown() }) {
		role, _ := c.Get(roleKey)
		s.barred(c, role.(people.Role), people.Design)
		return
	}
	if err == nil && len(edits) == 0 {
		s.after(c, p.ID, w, w.Since, nil)
		return
	}
	var seen []cost.Priced
	if may(c, people.Design) {
		edits, seen = atShops(p.Design, edits)
	}
	var next design.Design
	if err == nil {
		next, err = design.Apply(p.Design, shop.Catalog, edits...)
	}
	if err != nil {
		s.refuse(c, p, shop, w, err, typed)
		return
	}
	there := shop
	if next.Region != p.Design.Region { // another catalogue, and money
		if there, _, err = s.shopFor(asked(c), p.Household, next.Region, p.ID); err != nil {
			s.trouble(c, err)
			return
		}
	}
	round := s.plans.now()
	pl, kept, err := s.admit(next, there)
	if err != nil {
		s.refuse(c, p, shop, w, err, typed)
		return
	}
	kept.Edit = store.Edit{By: visitorOf(c).Account, Edits: edits}
	notice := changedElsewhere
	if base != p.Head {
		both, theirs, err := s.meanwhile(asked(c), p.ID, base, edits)
		switch {
		case err != nil:
			s.trouble(c, err)
			return
		case both:
			base = p.Head // others changed other things: both hold
		case theirs != "":
			notice = fmt.Sprintf(changedBy, theirs)
		}
	}
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
			refused{values: typed, reasons: map[string]string{}, notice: notice},
		)
	case err != nil:
		s.trouble(c, err)
	default:
		if err := s.sawPrices(c, p, seen); err != nil {
			s.log.Error("prices that were written in", "err", err) // the project has them
		}
		if how := form.Get("beds"); how == "copy" || how == "add" {
			w.Bed = next.Beds[len(next.Beds)-1].ID
		} else if _, err := next.Bed(w.Bed); err != nil {
			w.Bed = next.Beds[0].ID
		}
		s.did(c, label)
		s.afterEdit(c, p.ID, w, p.Head, pl, round)
	}
}

// refuse shows the bench as it stands, with what was typed and why it was not taken: at
// its field where that is on the page, above everything otherwise.
func (s *Server) refuse(c *gin.Context, p store.Project, shop plan.Shop, w where, err error, typed map[string]string) {
	no := refused{values: typed, reasons: map[string]string{}}
	var fault *aside.Fault
	if errors.As(err, &fault) {
		s.figures.panicked()
		s.logOf(c).Error("panic", "path", c.Request.URL.Path, "reason", fault.Reason, "stack", string(fault.Stack))
		no.notice = "Planning that goes wrong in the program itself, and nothing was changed. Another value may" +
			" work; the log of the program says where it went wrong."
	}
	for _, r := range design.Refusals(err) {
		if _, here := typed[r.Field]; !here || no.reasons[r.Field] != "" {
			no.notice = strings.TrimSpace(no.notice + " " + sentence(r.Reason))
			continue
		}
		no.reasons[r.Field] = r.Reason
	}
	if len(no.reasons) == 0 && no.notice == "" {
		no.notice = sentence(err.Error())
	}
	s.showBench(c, http.StatusUnprocessableEntity, p, shop, w, w.Since, no)
}

// sentence starts a reason with a capital and ends it with a full stop.
func sentence(reason string) string {
	if reason == "" {
		return ""
	}
	r, size := utf8.DecodeRuneInString(reason)
	return string(unicode.ToUpper(r)) + strings.TrimSuffix(reason[size:], ".") + "."
}

// after shows the project as it stands after a change, with the differences
// since a revision. pl is its plan where it has been made.
func (s *Server) after(c *gin.Context, project int64, w where, since int64, pl *plan.Plan) {
	s.afterEdit(c, project, w, since, pl, -1)
}

// afterEdit is after an edit whose plan was begun in a round, so that it can be kept.
func (s *Server) afterEdit(c *gin.Context, project int64, w where, since int64, pl *plan.Plan, round int64) {
	if !scripted(c) {
		link := w.Link()
		if since > 0 {
			link = w.Link("since", strconv.FormatInt(since, 10), "laid", map[bool]string{true: "1"}[w.Laid])
		}
		c.Redirect(http.StatusSeeOther, link)
		return
	}
	now, err := s.store.Project(asked(c), project)
	if err != nil {
		s.trouble(c, err)
		return
	}
	shop, _, err := s.shopFor(asked(c), now.Household, now.Design.Region, project)
	if err != nil {
		s.trouble(c, err)
		return
	}
	if pl != nil && pl.Design.Region == now.Design.Region {
		s.plans.keep(now.Standing, pl, round)
	}
	at, _ := stageNamed(w.Stage)
	w.Late = at.Draws != nil && !w.Laid && c.GetHeader("X-Chamfer-Late") == "yes"
	s.benchOf(c, http.StatusOK, now, shop, w, since, refused{}, pl)
}

// edits reads the changes out of a form: "set" pairs of a remedy, a nudge of a
// length, a finding to keep, or fields whose text differs from what is stored.
func (s *Server) edits(
	p store.Project,
	shop plan.Shop,
	w where,
	form url.Values,
) (edits []design.Edit, label string, typed map[string]string, err error) {
	typed = map[string]string{}
	bed, err := p.Design.Bed(w.Bed)
	if err != nil {
		return nil, "", typed, err
	}
	if asked := form.Get("bed"); asked != "" && asked != bed.ID {
		return nil, "", typed, &design.Refusal{
			Field:  "bed",
			Value:  asked,
			Reason: "that bed is no longer in this project: choose another above the drawing",
		}
	}
	if sets := form["set"]; len(sets) > 0 {
		for _, pair := range sets {
			field, value, _ := strings.Cut(pair, "=")
			e := design.Edit{Bed: bed.ID, Field: field, Value: value}
			if other, field, ok := strings.Cut(field, ">"); ok { // of another bed, or of the plot
				e.Bed, e.Field = other, field
			}
			if !form.Has("some") || slices.Contains(form["for"], e.Bed) {
				edits = append(edits, e)
			}
		}
		if len(edits) == 0 {
			return nil, "", typed, &design.Refusal{Field: "for", Reason: "no bed is ticked: tick those that are to be likewise"}
		}
		return edits, said(form.Get("label"), "a remedy"), typed, nil
	}
	if code := form.Get("keep"); code != "" {
		value := code
		if note := strings.TrimSpace(form.Get("note")); note != "" {
			value += ": " + note
		}
		return []design.Edit{{Bed: bed.ID, Field: "keep", Value: value}}, "keep as it is: " + code, typed, nil
	}
	if edits, label, found, err := s.plantEdit(p, shop, bed, form, typed); found {
		return edits, label, typed, err
	}
	if form.Has("own-unit") {
		text := strings.TrimSpace(form.Get("own-unit"))
		typed["own-unit"] = text
		return []design.Edit{{Field: "own-unit", Value: text}}, said("a block of your own: "+text, ""), typed, nil
	}
	if form.Has("own-timber") {
		text := strings.TrimSpace(form.Get("own-timber"))
		typed["own-timber"] = text
		return []design.Edit{{Field: "own-timber", Value: text}}, said("a wood of your own: "+text, ""), typed, nil
	}
	if form.Has("tap-right") && (form.Get("tap-right") != form.Get("was:tap-right") ||
		form.Get("tap-out") != form.Get("was:tap-out")) {
		to := form.Get("tap-right") + ";" + form.Get("tap-out")
		typed["water:tap"] = to
		return []design.Edit{{Field: "water:tap", Value: to}}, "the tap moved", typed, nil
	}
	if form.Has("r-peg") {
		text := bookOf(form)
		typed["ground:readings"] = text
		return []design.Edit{{Field: "ground:readings", Value: text}}, "readings of the ground", typed, nil
	}
	switch form.Get("beds") {
	case "copy":
		return []design.Edit{{Bed: bed.ID, Field: "copy-bed"}}, "a bed like " + bed.Name, typed, nil
	case "add":
		title := form.Get("add-system")
		if system, ok := design.SystemNamed(title); ok {
			title = strings.ToLower(system.Title)
		}
		return []design.Edit{
				{Field: "add-bed", Value: form.Get("add-system")},
			}, said(
				"one more: "+title,
				"",
			), typed, nil
	case "remove":
		return []design.Edit{{Bed: bed.ID, Field: "remove-bed"}}, "without " + bed.Name, typed, nil
	}
	if form.Get("stand") != "" {
		return s.moveStand(p, shop, form)
	}
	if field, mm, ok := strings.Cut(form.Get("drag"), ":"); ok {
		by, err := strconv.ParseFloat(mm, 64)
		to, ok := plan.Dragged(*bed, shop, field, by)
		if err != nil || !ok {
			return nil, "", typed, &design.Refusal{
				Field:  field,
				Value:  mm,
				Reason: "that cannot be dragged so far: type its size instead",
			}
		}
		edits, label = lengthEdit(*bed, shop, field, to)
		return edits, label, typed, nil
	}
	if field, by, ok := strings.Cut(form.Get("nudge"), ":"); ok {
		now, err := plan.Reckon(p.Design, shop)
		if err != nil {
			return nil, "", typed, err
		}
		to, ok := plan.Nudged(now, bed.ID, field, by)
		if !ok {
			return nil, "", typed, &design.Refusal{
				Field:  field,
				Value:  by,
				Reason: "there is no other size that way: type one instead",
			}
		}
		edits, label = lengthEdit(*bed, shop, field, to)
		return edits, label, typed, nil
	}
	pr := shop.Precision()
	var labels []string
	for _, f := range design.FieldsOf(*bed) {
		if !form.Has(f.Key) {
			continue
		}
		value := strings.TrimSpace(form.Get(f.Key))
		if value == f.Text(*bed, pr) {
			continue
		}
		typed[f.Key] = value
		edits = append(edits, design.Edit{Bed: bed.ID, Field: f.Key, Value: value})
		labels = append(labels, fmt.Sprintf("%s %s → %s", strings.ToLower(f.Label), f.Text(*bed, pr), value))
	}
	for _, key := range slices.Sorted(maps.Keys(form)) {
		if _, has := design.FieldOf(*bed, key); !has && design.IsField(key) { // not dropped without a word
			typed[key] = form.Get(key)
			edits = append(edits, design.Edit{Bed: bed.ID, Field: key, Value: form.Get(key)})
		}
		value := form.Get(key)
		if strings.HasPrefix(key, "plot:") { // boxes that are ticked, some of them
			value = strings.Trim(strings.Join(form[key], ","), ",")
		}
		for _, of := range []struct{ name, verb string }{{"deep:", "depth "}, {"of:", "of "}} { // of a layer
			if n, ok := strings.CutPrefix(key, of.name); ok && value != "" && value != form.Get("was:"+key) {
				key, value = "layer:"+n, of.verb+strings.TrimSpace(value)
			}
		}
		bare := strings.TrimSpace(strings.ReplaceAll(value, shop.Currency().Symbol, ""))
		e, said, ok := design.Typed(key, value, bare)
		if was := form.Get("was:" + strings.TrimPrefix(key, "price:")); !ok || value == was {
			continue
		}
		typed[key], e.Bed = value, bed.ID
		edits, labels = append(edits, e), append(labels, said)
	}
	slices.SortStableFunc(edits, func(a, b design.Edit) int { return strings.Compare(behind(a), behind(b)) })
	slices.Sort(labels)
	return edits, said(strings.Join(labels, ", "), ""), typed, nil
}

// behind orders prices by SKU, and the like, behind the other fields, which keep their
// order; a form's own order is not kept by its map.
func behind(e design.Edit) string {
	if _, _, ok := design.Typed(e.Field, "", ""); ok {
		return e.Field
	}
	return ""
}

func cmpOr(a, b string) string {
	if a != "" {
		return a
	}
	return b
}

// said is what the history calls a change, cut short where it is long, or otherwise where
// nothing is said.
func said(label, otherwise string) string {
	const most = 240
	label = strings.Join(strings.Fields(strings.ToValidUTF8(label, "")), " ")
	if r := []rune(label); len(r) > most {
		label = string(r[:most]) + "…"
	}
	return cmpOr(label, cmpOr(otherwise, "a change"))
}

// lengthEdit sets a length field, with what the history calls it.
func lengthEdit(bed design.Bed, shop plan.Shop, field string, to measure.Length) ([]design.Edit, string) {
	f, _ := design.FieldOf(bed, field)
	label := fmt.Sprintf(
		"%s %s → %s",
		strings.ToLower(f.Label),
		f.Text(bed, shop.Precision()),
		shop.Precision().Feet(to),
	)
	return []design.Edit{{Bed: bed.ID, Field: field, Value: to.String()}}, label
}

// drag tells, while a wall is being dragged, what it would come to: a line of
// text. Nothing is saved.
func (s *Server) drag(c *gin.Context) {
	p, shop, ok := s.project(c)
	if !ok {
		return
	}
	w := s.where(c, p, c.Query)
	bed, err := p.Design.Bed(w.Bed)
	if err != nil {
		s.trouble(c, err)
		return
	}
	by, err := strconv.ParseFloat(c.Query("mm"), 64)
	to, ok := plan.Dragged(*bed, shop, c.Query("field"), by)
	if err != nil || !ok {
		c.String(http.StatusBadRequest, "this cannot be dragged")
		return
	}
	var now *plan.Plan
	if err := planned(func() (err error) { now, err = plan.Reckon(p.Design, shop); return err }); err != nil {
		c.String(http.StatusUnprocessableEntity, reason(err))
		return
	}
	said := shop.Precision().Feet(to)
	what := plan.WhatIfs(c.Request.Context(), now, [][]design.Edit{{{Bed: bed.ID, Field: c.Query("field"),
		Value: to.String()}}})[0]
	if what.Err != nil {
		said += ": " + reason(what.Err)
	}
	for _, ch := range effect(what.Changes) {
		if ch.Key == "total" || ch.Key == "boards" {
			said += ", " + strings.TrimSuffix(ch.Text+" "+ch.Label, " total")
		}
	}
	c.String(http.StatusOK, said)
}

func (s *Server) goTo(c *gin.Context) {
	h, base, ok := s.based(c)
	if !ok {
		return
	}
	rev, err := strconv.ParseInt(c.PostForm("revision"), 10, 64)
	if err != nil {
		s.trouble(c, store.ErrNoRevision)
		return
	}
	if err := s.store.GoTo(h.ID, base, rev); err != nil {
		s.unmoved(c, h.ID, base, "gone back to", err)
		return
	}
	s.did(c, "went back in the log")
	s.afterMove(c, h)
}

// unmoved answers where a move of the head did not come about.
func (s *Server) unmoved(c *gin.Context, project, base int64, done string, err error) {
	var conflict *store.Conflict
	if !errors.As(err, &conflict) {
		s.trouble(c, err)
		return
	}
	p, shop, ok := s.project(c)
	if !ok {
		return
	}
	s.showBench(
		c,
		http.StatusConflict,
		p,
		shop,
		s.where(c, p, c.PostForm),
		base,
		refused{notice: fmt.Sprintf(movedElsewhere, done)},
	)
}

// afterMove shows a project after its head was moved: it may be one that cannot be read.
func (s *Server) afterMove(c *gin.Context, was store.Standing) {
	p, err := s.store.Project(asked(c), was.ID)
	if err != nil {
		s.trouble(c, err)
		return
	}
	s.after(c, p.ID, s.where(c, p, c.PostForm), was.Head, nil)
}

// moveStand reads where a bed goes on the plot: by so many millimetres, turned,
// wherever there is room, or so far from the left and the front.
func (s *Server) moveStand(
	p store.Project,
	shop plan.Shop,
	form url.Values,
) (edits []design.Edit, label string, typed map[string]string, err error) {
	typed = map[string]string{}
	bed, number, _ := strings.Cut(form.Get("stand"), ":")
	no := &design.Refusal{
		Bed:    bed,
		Field:  "place:" + number,
		Value:  form.Get("by"),
		Reason: "that bed is not drawn on the plot: choose one that is",
	}
	n, err := strconv.Atoi(number)
	if err != nil {
		return nil, "", typed, no
	}
	pl, err := plan.Make(p.Design, shop)
	if err != nil {
		return nil, "", typed, err
	}
	i, ok := pl.Site.Stand(bed, n)
	if !ok {
		return nil, "", typed, no
	}
	stand := pl.Site.Stands[i]
	edit := func(value, words string) ([]design.Edit, string, map[string]string, error) {
		return []design.Edit{{Bed: bed, Field: "place:" + number, Value: value}}, stand.Name + " " + words, typed, nil
	}
	switch form.Get("how") {
	case "turn":
		return edit("turn", "turned")
	case "free":
		return edit("free", "put where there is room")
	}
	turned := ";straight"
	if stand.Turned {
		turned = ";turned"
	}
	if dx, dy, ok := strings.Cut(form.Get("by"), ";"); ok {
		x, err := strconv.ParseFloat(dx, 64)
		y, err2 := strconv.ParseFloat(dy, 64)
		if err != nil || err2 != nil || !(math.Abs(x) < 1e6 && math.Abs(y) < 1e6) {
			no.Reason = "that is no distance on the plot: drag it again, or type how far from the left and the front" +
				" it stands"
			return nil, "", typed, no
		}
		to := plan.StandMoved(pl, i, x, y)
		return edit(to.U.String()+";"+to.V.String()+turned, "moved")
	}
	typed["place:"+number] = form.Get("x") + ";" + form.Get("y")
	return edit(form.Get("x")+";"+form.Get("y")+turned, "moved")
}
