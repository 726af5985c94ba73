package web

import (
	"fmt"
	"net/http"
	"slices"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"chamfer/core/design"
	"chamfer/core/laying"
	"chamfer/core/measure"
	"chamfer/core/record"
	"chamfer/core/work"
	"chamfer/store"
)

// blockView is a block that a step lays, of which one may break.
type blockView struct{ Item, Name string }

// blocks are those a step lays.
func (b *benchPage) blocks(st work.Step) (list []blockView) {
	for _, c := range b.Plan.Laying.Units {
		if slices.ContainsFunc(st.Uses, func(u work.Use) bool { return u.Item == c.Unit.ID }) {
			list = append(list, blockView{c.Unit.ID, c.Unit.Name})
		}
	}
	return list
}

// spoilt takes down that a piece is spoilt or a block broken: what is left is planned anew, and what has to be bought
// for it is said.
func (s *Server) spoilt(c *gin.Context) {
	p, pl, ok := s.planned(c)
	if !ok {
		return
	}
	w := s.where(c, p, c.PostForm)
	w.Stage, w.Step = "build", cmpOr(c.PostForm("step"), w.Step)
	letter, unit := c.PostForm("letter"), c.PostForm("unit")
	var edit design.Edit
	label := "one " + letter + " is spoilt"
	switch k := slices.IndexFunc(pl.Laying.Units, func(u laying.Count) bool { return u.Unit.ID == unit }); {
	case letter != "":
		var err error
		if edit, err = pl.Spoilt(letter); err != nil {
			s.fault(c, http.StatusBadRequest, sentence(err.Error()), "Open the step anew: it may have changed.")
			return
		}
	case k >= 0:
		edit = design.Edit{Field: "broken:" + unit, Value: strconv.Itoa(p.Design.Broken[unit] + 1)}
		label = "one " + pl.Laying.Units[k].Unit.Name + " broke"
	default:
		s.fault(c, http.StatusBadRequest, "It does not say what is spoilt.", "Open the step anew, and press again.")
		return
	}
	made, err := s.change(c, p, pl.Shop, []design.Edit{edit}, label)
	if err != nil {
		s.refuse(c, p, pl.Shop, w, err, nil)
		return
	}
	told := "One " + letter + " is cut again " + made.Again(letter) + "."
	if letter == "" {
		u := made.Laying.Units[slices.IndexFunc(made.Laying.Units, func(u laying.Count) bool { return u.Unit.ID == unit })]
		told = fmt.Sprintf("One of the spares stands in for it; %d are left.", u.Spare)
		if u.Broke > p.Design.Broken[unit] && u.Buy > bought(pl.Laying.Units, unit) {
			told = "There is no spare left for it."
		}
	}
	list, more := made.Instead(pl)
	no := refused{told: []string{told}}
	for _, x := range list {
		no.told = append(no.told, "On the shopping list: "+x.Words())
	}
	if len(list) > 0 {
		no.told = append(no.told, "That comes to "+made.Shop.Currency().Format(more)+" with tax.")
	} else {
		no.told = append(no.told, "Nothing has to be bought for it.")
	}
	s.did(c, label)
	now, err := s.store.Project(asked(c), p.ID)
	if err != nil {
		s.trouble(c, err)
		return
	}
	s.benchOf(c, http.StatusOK, now, made.Shop, w, 0, no, made)
}

func bought(list []laying.Count, unit string) int {
	for _, u := range list {
		if u.Unit.ID == unit {
			return u.Buy
		}
	}
	return 0
}

// Most of a size's name.
const mostSizeName = 80

// differs takes down a size that came out other than it was planned.
func (s *Server) differs(c *gin.Context) {
	p, pl, ok := s.planned(c)
	if !ok {
		return
	}
	w := s.where(c, p, c.PostForm)
	w.Stage, w.Step = "build", cmpOr(c.PostForm("step"), w.Step)
	no := refused{values: map[string]string{}, reasons: map[string]string{}}
	for _, key := range []string{"size:what", "size:planned", "size:measured"} {
		no.values[key] = c.PostForm(key)
	}
	what := strings.TrimSpace(no.values["size:what"])
	key := record.StepKey + w.Step + "|" + what
	sys := pl.Shop.Catalog.System
	length := func(field string) measure.Length {
		l, err := measure.Parse(no.values[field], sys)
		if err != nil {
			no.reasons[field] = err.Error()
		}
		return l
	}
	switch {
	case !slices.ContainsFunc(pl.Steps, func(st work.Step) bool { return st.ID == w.Step }):
		s.fault(c, http.StatusBadRequest, "There is no such step.", "Open the steps anew: it may have changed.")
		return
	case what == "" || len([]rune(what)) > mostSizeName || !design.Visible(what):
		no.reasons["size:what"] = fmt.Sprintf("say what was measured, in up to %d letters", mostSizeName)
	}
	measured := length("size:measured")
	planned := measured
	if strings.TrimSpace(no.values["size:planned"]) != "" {
		planned = length("size:planned")
	}
	if len(no.reasons) > 0 {
		s.showBench(c, http.StatusUnprocessableEntity, p, pl.Shop, w, 0, no)
		return
	}
	if !s.kept(c, s.store.PutSizes(p.ID, []store.Size{{Key: key, Planned: int64(planned), Measured: int64(measured)}})) {
		return
	}
	s.did(c, "a size was measured")
	s.again(c, w)
}

// kept answers where something could not be kept.
func (s *Server) kept(c *gin.Context, err error) bool {
	switch {
	case err == nil:
		return true
	case isFull(err):
		s.fault(c, http.StatusUnprocessableEntity, "This project keeps as much of that as it can.",
			"Nothing was changed: take out what is not needed, and send it again.")
	default:
		s.trouble(c, err)
	}
	return false
}

// again shows a page as it stands now.
func (s *Server) again(c *gin.Context, w where) {
	if w.Stage == "build" && !scripted(c) {
		c.Redirect(http.StatusSeeOther, w.Link("step", w.Step)+"#step")
		return
	}
	s.after(c, w.ID, w, w.Since, nil)
}
