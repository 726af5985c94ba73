package web

import (
	"errors"
	"fmt"
	"math"
	"net/http"
	"net/url"
	"slices"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"chamfer/core/design"
	"chamfer/core/measure"
	"chamfer/core/plan"
	"chamfer/store"
)

// edit takes a form of changed fields, or the pairs of a remedy, and saves the
// changed design as a new revision.
func (s *Server) edit(c *gin.Context) {
	p, shop, ok := s.project(c)
	if !ok {
		return
	}
	if err := c.Request.ParseForm(); err != nil {
		s.fault(c, http.StatusRequestEntityTooLarge, "That was too much to read.", "Go back and try again with less.")
		return
	}
	form := c.Request.PostForm
	w := s.where(c, p, form.Get)
	base, err := strconv.ParseInt(form.Get("rev"), 10, 64)
	if err != nil {
		base = p.Head
	}
	edits, label, typed := s.edits(p, shop, w, form)
	if len(edits) == 0 {
		s.after(c, p, shop, w, w.Since)
		return
	}
	next, err := design.Apply(p.Design, shop.Catalog, edits...)
	if err != nil {
		no := refused{values: typed, reasons: map[string]string{}}
		for _, r := range design.Refusals(err) {
			if _, here := typed[r.Field]; !here || no.reasons[r.Field] != "" {
				no.notice = strings.TrimSpace(no.notice + " " + r.Reason + ".")
				continue
			}
			no.reasons[r.Field] = r.Reason
		}
		if len(no.reasons) == 0 && no.notice == "" {
			no.notice = err.Error()
		}
		s.showBench(c, http.StatusUnprocessableEntity, p, shop, w, w.Since, no)
		return
	}
	var conflict *store.Conflict
	switch err := s.store.Save(p.ID, base, next, label); {
	case errors.As(err, &conflict):
		no := refused{values: typed, reasons: map[string]string{},
			notice: "This project was changed in another window since this page was shown. Nothing was overwritten: below is how it stands now, with what you typed still in its field. Set it again if you still want it."}
		s.showBench(c, http.StatusConflict, p, shop, w, base, no)
	case err != nil:
		s.trouble(c, err)
	default:
		if how := form.Get("beds"); how == "copy" || how == "add" {
			w.Bed = next.Beds[len(next.Beds)-1].ID
		} else if _, err := next.Bed(w.Bed); err != nil {
			w.Bed = next.Beds[0].ID
		}
		s.after(c, p, shop, w, p.Head)
	}
}

// after shows the project as it stands after a change, with the differences
// since a revision.
func (s *Server) after(c *gin.Context, p store.Project, shop plan.Shop, w where, since int64) {
	if !scripted(c) {
		link := w.Link()
		if since > 0 {
			link = w.Link("since", strconv.FormatInt(since, 10))
		}
		c.Redirect(http.StatusSeeOther, link)
		return
	}
	now, err := s.store.Project(p.ID)
	if err != nil {
		s.trouble(c, err)
		return
	}
	s.showBench(c, http.StatusOK, now, shop, w, since, refused{})
}

// edits reads the changes out of a form: "set" pairs of a remedy, a nudge of a
// length, a finding to keep, or fields whose text differs from what is stored.
func (s *Server) edits(p store.Project, shop plan.Shop, w where, form url.Values) (edits []design.Edit, label string, typed map[string]string) {
	typed = map[string]string{}
	bed, err := p.Design.Bed(w.Bed)
	if err != nil {
		return nil, "", typed
	}
	if sets := form["set"]; len(sets) > 0 {
		for _, pair := range sets {
			field, value, _ := strings.Cut(pair, "=")
			e := design.Edit{Bed: bed.ID, Field: field, Value: value}
			if other, field, ok := strings.Cut(field, ">"); ok { // of another bed, or of the plot
				e.Bed, e.Field = other, field
			}
			edits = append(edits, e)
		}
		return edits, cmpOr(form.Get("label"), "a remedy"), typed
	}
	if code := form.Get("keep"); code != "" && len(code) <= 40 {
		value := code
		if note := strings.TrimSpace(form.Get("note")); note != "" {
			value += ": " + note
		}
		return []design.Edit{{Bed: bed.ID, Field: "keep", Value: value}}, "keep as it is: " + code, typed
	}
	if form.Has("own-unit") {
		text := strings.TrimSpace(form.Get("own-unit"))
		typed["own-unit"] = text
		return []design.Edit{{Field: "own-unit", Value: text}}, "a block of your own: " + text, typed
	}
	switch form.Get("beds") {
	case "copy":
		return []design.Edit{{Bed: bed.ID, Field: "copy-bed"}}, "a bed like " + bed.Name, typed
	case "add":
		title := form.Get("add-system")
		if system, ok := design.SystemNamed(title); ok {
			title = strings.ToLower(system.Title)
		}
		return []design.Edit{{Field: "add-bed", Value: form.Get("add-system")}}, "one more: " + title, typed
	case "remove":
		return []design.Edit{{Bed: bed.ID, Field: "remove-bed"}}, "without " + bed.Name, typed
	}
	if form.Get("stand") != "" {
		return s.moveStand(p, shop, form)
	}
	if field, mm, ok := strings.Cut(form.Get("drag"), ":"); ok {
		by, err := strconv.ParseFloat(mm, 64)
		to, ok := plan.Dragged(*bed, shop, field, by)
		if err != nil || !ok {
			return nil, "", typed
		}
		return lengthEdit(*bed, shop, field, to)
	}
	if field, by, ok := strings.Cut(form.Get("nudge"), ":"); ok {
		now, err := plan.Reckon(p.Design, shop)
		if err != nil {
			return nil, "", typed
		}
		to, ok := plan.Nudged(now, bed.ID, field, by)
		if !ok {
			return nil, "", typed
		}
		return lengthEdit(*bed, shop, field, to)
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
	for key := range form {
		if strings.HasPrefix(key, "plot:") {
			if value := strings.Join(form[key], ","); strings.Trim(value, ",") != form.Get("was:"+key) {
				typed[key] = value
				edits = append(edits, design.Edit{Field: key, Value: strings.Trim(value, ",")})
				labels = append(labels, strings.ReplaceAll(key, ":", " ")+" → "+strings.Trim(value, ","))
			}
		}
		if strings.HasPrefix(key, "measured:") && form.Get(key) != form.Get("was:"+key) {
			typed[key] = form.Get(key)
			edits = append(edits, design.Edit{Field: key, Value: form.Get(key)})
			labels = append(labels, strings.ReplaceAll(strings.TrimPrefix(key, "measured:"), ":", ", ")+" measured "+form.Get(key))
		}
		if id, ok := strings.CutPrefix(key, "have:"); ok && form.Get(key) != form.Get("was:"+key) {
			typed[key] = form.Get(key)
			edits = append(edits, design.Edit{Field: key, Value: form.Get(key)})
			labels = append(labels, "there are "+form.Get(key)+" of "+id)
		}
		if sku, ok := strings.CutPrefix(key, "price:"); ok && form.Get(key) != form.Get("was:"+sku) {
			typed[key] = form.Get(key)
			edits = append(edits, design.Edit{Field: key, Value: form.Get(key)})
			labels = append(labels, "price of "+sku+" → "+form.Get(key))
		}
	}
	slices.SortStableFunc(edits, func(a, b design.Edit) int { return strings.Compare(priceKey(a), priceKey(b)) })
	slices.Sort(labels)
	return edits, strings.Join(labels, ", "), typed
}

// priceKey orders prices by SKU, and measured boards, behind the other fields, which keep their
// order; a form's own order is not kept by its map.
func priceKey(e design.Edit) string {
	if strings.HasPrefix(e.Field, "price:") || strings.HasPrefix(e.Field, "have:") || strings.HasPrefix(e.Field, "measured:") || strings.HasPrefix(e.Field, "plot:") {
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

// lengthEdit sets a length field, with what the history calls it.
func lengthEdit(bed design.Bed, shop plan.Shop, field string, to measure.Length) ([]design.Edit, string, map[string]string) {
	f, _ := design.FieldOf(bed, field)
	label := fmt.Sprintf("%s %s → %s", strings.ToLower(f.Label), f.Text(bed, shop.Precision()), shop.Precision().Feet(to))
	return []design.Edit{{Bed: bed.ID, Field: field, Value: to.String()}}, label, map[string]string{}
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
	now, err := plan.Reckon(p.Design, shop)
	if err != nil {
		s.trouble(c, err)
		return
	}
	said := shop.Precision().Feet(to)
	changes, err := plan.WhatIf(now, design.Edit{Bed: bed.ID, Field: c.Query("field"), Value: to.String()})
	if err != nil {
		said += ": " + reason(err)
	}
	for _, ch := range effect(changes) {
		if ch.Key == "total" || ch.Key == "boards" {
			said += ", " + strings.TrimSuffix(ch.Text+" "+ch.Label, " total")
		}
	}
	c.String(http.StatusOK, said)
}

// history undoes or redoes.
func (s *Server) history(move func(int64) error) gin.HandlerFunc {
	return func(c *gin.Context) {
		p, shop, ok := s.project(c)
		if !ok {
			return
		}
		w := s.where(c, p, c.PostForm)
		if err := move(p.ID); err != nil && !errors.Is(err, store.ErrNothing) {
			s.trouble(c, err)
			return
		}
		s.after(c, p, shop, w, p.Head)
	}
}

func (s *Server) goTo(c *gin.Context) {
	p, shop, ok := s.project(c)
	if !ok {
		return
	}
	rev, _ := strconv.ParseInt(c.PostForm("revision"), 10, 64)
	if err := s.store.GoTo(p.ID, rev); err != nil {
		s.trouble(c, err)
		return
	}
	s.after(c, p, shop, s.where(c, p, c.PostForm), p.Head)
}

// moveStand reads where a bed goes on the plot: by so many millimetres, turned,
// wherever there is room, or so far from the left and the front.
func (s *Server) moveStand(p store.Project, shop plan.Shop, form url.Values) (edits []design.Edit, label string, typed map[string]string) {
	typed = map[string]string{}
	bed, number, _ := strings.Cut(form.Get("stand"), ":")
	n, err := strconv.Atoi(number)
	pl, planned := plan.Make(p.Design, shop)
	if err != nil || planned != nil {
		return nil, "", typed
	}
	i, ok := pl.Site.Stand(bed, n)
	if !ok {
		return nil, "", typed
	}
	stand := pl.Site.Stands[i]
	edit := func(value, words string) ([]design.Edit, string, map[string]string) {
		return []design.Edit{{Bed: bed, Field: "place:" + number, Value: value}}, stand.Name + " " + words, typed
	}
	if how := form.Get("how"); how == "turn" || how == "free" {
		return edit(how, map[string]string{"turn": "turned", "free": "put where there is room"}[how])
	}
	turned := ";straight"
	if stand.Turned {
		turned = ";turned"
	}
	if dx, dy, ok := strings.Cut(form.Get("by"), ";"); ok {
		x, err := strconv.ParseFloat(dx, 64)
		y, err2 := strconv.ParseFloat(dy, 64)
		if err != nil || err2 != nil || !(math.Abs(x) < 1e6 && math.Abs(y) < 1e6) {
			return nil, "", typed
		}
		to := plan.StandMoved(pl, i, x, y)
		return edit(to.U.String()+";"+to.V.String()+turned, "moved")
	}
	typed["place:"+number] = form.Get("x") + ";" + form.Get("y")
	return edit(form.Get("x")+";"+form.Get("y")+turned, "moved")
}
