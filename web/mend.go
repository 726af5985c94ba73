package web

import (
	"errors"
	"fmt"
	"net/http"
	"strconv"

	"github.com/gin-gonic/gin"

	"chamfer/core/aside"
	"chamfer/core/plan"
	"chamfer/store"
)

// mendPage is what there is of a project whose newest revision cannot be shown: the way
// back, its log, its text.
type mendPage struct {
	store.Standing
	Title    string
	Reason   string
	Damaged  bool // it cannot be read; otherwise it cannot be planned
	Entries  []logEntry
	CanUndo  bool
	CanRedo  bool
	Rev      int64
	Searched int // revisions gone through for one that can be shown
	Good     int64
}

// lookBack is how many revisions are gone through for the last one that can be shown.
const lookBack = 50

// mendPage answers for a project that cannot be read or planned.
func (s *Server) mendPage(c *gin.Context, id int64, why error) {
	h, err := s.store.Standing(asked(c), id)
	if err != nil {
		s.trouble(c, err)
		return
	}
	list, err := s.store.History(asked(c), id, 200)
	if err != nil {
		s.trouble(c, err)
		return
	}
	p := mendPage{
		Title:    h.Name,
		Standing: h,
		Reason:   sentence(reason(why)),
		CanUndo:  h.Parent != nil,
		CanRedo:  h.Redo != nil,
		Rev:      h.Head,
		Entries:  logEntries(list, h.Head, speechOf(c).Speech),
	}
	var d *store.Damaged
	if p.Damaged = errors.As(why, &d); p.Damaged {
		p.Reason = d.Reason.Error() + "."
	}
	var fault *aside.Fault
	if errors.As(why, &fault) {
		s.figures.panicked()
		s.logOf(c).Error("panic", "path", c.Request.URL.Path, "reason", fault.Reason, "stack", string(fault.Stack))
		p.Reason = "Planning it goes wrong in the program itself."
	}
	s.show(c, http.StatusUnprocessableEntity, "mend.html", p)
}

// mend goes back to the last revision that can be read and planned.
func (s *Server) mend(c *gin.Context) {
	h, base, ok := s.based(c)
	if !ok {
		return
	}
	id := h.ID
	list, err := s.store.History(asked(c), id, lookBack)
	if err != nil {
		s.trouble(c, err)
		return
	}
	for _, r := range list {
		d, err := s.store.Revision(asked(c), id, r.ID)
		if err != nil {
			continue
		}
		shop, _, err := s.shopFor(asked(c), h.Household, d.Region, id)
		if err != nil {
			continue
		}
		if err := planned(func() error { _, err := plan.Reckon(d, shop); return err }); err != nil {
			continue
		}
		if err := s.store.GoTo(id, base, r.ID); err != nil {
			s.unmoved(c, id, base, "gone back to", err)
			return
		}
		c.Redirect(http.StatusSeeOther, fmt.Sprintf("/p/%d/log", id))
		return
	}
	s.fault(
		c,
		http.StatusUnprocessableEntity,
		"None of its last revisions can be shown.",
		fmt.Sprintf(
			"The newest %d were gone through. Its text can be taken from its page, and a copy of the file be brought"+
				" back with “chamfer restore”.",
			len(list),
		),
	)
}

// planned does some planning and turns a panic in it into its error.
func planned(do func() error) (err error) {
	if fault := aside.Catch(func() { err = do() }); fault != nil {
		return fault
	}
	return err
}

// text hands over the text of a project as it is kept, whether it can be read or not.
func (s *Server) text(c *gin.Context) {
	id, ok := s.id(c)
	if !ok {
		return
	}
	h, err := s.store.Standing(asked(c), id)
	if err != nil {
		s.trouble(c, err)
		return
	}
	c.Header("Content-Disposition", fmt.Sprintf("attachment; filename=%q", slug(h.Name)+".txt"))
	c.Data(http.StatusOK, "text/plain; charset=utf-8", []byte(h.Raw))
}

// id is the number of the project that is asked for; where it is none, it answers.
func (s *Server) id(c *gin.Context) (int64, bool) {
	id, err := strconv.ParseInt(c.Param("id"), 10, 64)
	if err != nil {
		s.trouble(c, store.ErrNotFound)
	}
	return id, err == nil
}

// head is where the project that is asked for stands, whether it can be read or not;
// where there is none, or it has been deleted, it answers.
func (s *Server) head(c *gin.Context) (store.Standing, bool) {
	id, ok := s.id(c)
	if !ok {
		return store.Standing{}, false
	}
	h, err := s.store.Standing(asked(c), id)
	if err != nil {
		s.trouble(c, err)
		return h, false
	}
	if h.Deleted != nil {
		s.gone(c, id)
		return h, false
	}
	return h, true
}

// based is where the project of a form stands, and the revision it was made from; where
// one of them is missing, it answers.
func (s *Server) based(c *gin.Context) (h store.Standing, base int64, ok bool) {
	if h, ok = s.head(c); !ok {
		return h, 0, false
	}
	base, ok = s.revision(c)
	return h, base, ok
}
