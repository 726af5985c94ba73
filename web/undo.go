package web

import (
	"context"
	"errors"
	"fmt"
	"net/http"
	"slices"
	"strings"

	"github.com/gin-gonic/gin"

	"chamfer/core/design"
	"chamfer/people"
	"chamfer/store"
)

// Undo takes back one's own last edit. Where nobody has edited since, or nobody has an account, the head goes back;
// where others have, what they did is done anew on what was before, and one of theirs that is about the same stands
// in the way.

// lookBackFor is how many revisions are gone through for one of somebody's own.
const lookBackFor = 80

// own is what somebody's undo and redo would do.
type own struct {
	chain []store.Revision // from the head back
	undo  *store.Revision  // that would be taken back
	redo  *store.Revision  // that would be done again: one that takes another back
	moves struct{ undo, redo bool }
	again string // what redo does, in words
}

// ownOf finds it out; designs says whether they may change the design.
func (s *Server) ownOf(ctx context.Context, v visitor, h store.Standing, designs bool) (o own, err error) {
	if v.Free {
		o.moves.undo, o.moves.redo = h.Parent != nil, h.Redo != nil
		o.again = "the last thing undone"
		return o, nil
	}
	if o.chain, err = s.store.Chain(ctx, h.ID, lookBackFor); err != nil {
		return o, err
	}
	byID := map[int64]store.Revision{}
	for _, r := range o.chain {
		byID[r.ID] = r
	}
	mine := func(r store.Revision) bool { // and theirs to take back: what takes down, or with the right to design, all
		what := r
		if r.Undoes != nil {
			what = byID[*r.Undoes]
		}
		decides := func(e design.Edit) bool { return !e.TakesDown() }
		return (r.By == nil || *r.By == v.Account) &&
			(designs || len(what.Edits()) > 0 && !slices.ContainsFunc(what.Edits(), decides))
	}
	undone := design.Undone(steps(o.chain))
	for i := range o.chain {
		r := &o.chain[i]
		switch {
		case !mine(*r), undone[r.ID]:
			continue
		case r.Undoes != nil:
			if o.redo == nil && o.undo == nil {
				o.redo, o.again = r, strings.TrimPrefix(r.Label, undoneLabel)
			}
			continue
		case o.undo == nil && r.Parent != nil:
			o.undo = r
			o.moves.undo = i == 0
		}
	}
	next, some, err := s.store.RedoTo(ctx, h.ID)
	if err == nil && some && mine(next) {
		o.redo, o.moves.redo, o.again = nil, true, next.Label
	}
	return o, err
}

const undoneLabel = "undone: "

// steps are revisions as a design's history has them, the oldest first, without what each came to.
func steps(chain []store.Revision) []design.Step {
	var list []design.Step
	for _, r := range slices.Backward(chain) {
		st := design.Step{ID: r.ID, Edits: r.Edits()}
		if r.Undoes != nil {
			st.Undoes = *r.Undoes
		}
		list = append(list, st)
	}
	return list
}

func (s *Server) undo(c *gin.Context) {
	s.takeBack(c, "undone", s.store.Undo, func(o own) (*store.Revision, bool) { return o.undo, o.moves.undo })
}

func (s *Server) redo(c *gin.Context) {
	s.takeBack(c, "redone", s.store.Redo, func(o own) (*store.Revision, bool) { return o.redo, o.moves.redo })
}

// takeBack undoes or redoes, from the revision that the page shows.
func (s *Server) takeBack(c *gin.Context, done string, move func(project, base int64) error,
	which func(own) (*store.Revision, bool)) {
	h, base, ok := s.based(c)
	if !ok {
		return
	}
	o, err := s.ownOf(asked(c), visitorOf(c), h, may(c, people.Design))
	if err != nil {
		s.trouble(c, err)
		return
	}
	target, moves := which(o)
	_, damaged := h.Read()
	switch {
	case moves, visitorOf(c).Free, damaged != nil && may(c, people.Design):
		if err := move(h.ID, base); err != nil && !errors.Is(err, store.ErrNothing) {
			s.unmoved(c, h.ID, base, done, err)
			return
		}
	case base != h.Head:
		s.unmoved(c, h.ID, base, done, &store.Conflict{Base: base, Head: h.Head})
		return
	case target == nil:
		s.says(c, base, http.StatusConflict, "There is nothing of yours to be "+done+
			": what was changed last is others'. The log has all of it, and the way back.")
		return
	default:
		if !s.without(c, h, o, *target, done) {
			return
		}
	}
	s.did(c, "something was "+done)
	s.afterMove(c, h)
}

// without saves what the project comes to without one revision; where that cannot be, it answers.
func (s *Server) without(c *gin.Context, h store.Standing, o own, target store.Revision, done string) bool {
	p, shop, ok := s.project(c)
	if !ok {
		return false
	}
	chain := steps(o.chain)
	var err error
	for i := range chain {
		if chain[i].Made, err = s.store.Revision(asked(c), h.ID, chain[i].ID); err != nil {
			s.trouble(c, err)
			return false
		}
	}
	d, err := design.Without(chain, target.ID)
	var stands *design.Stands
	if errors.As(err, &stands) {
		s.says(c, h.Head, http.StatusConflict, standsInTheWay(o.chain, stands, done))
		return false
	}
	if err == nil && d.Region != p.Design.Region {
		shop, _, err = s.shopFor(asked(c), h.Household, d.Region, h.ID)
	}
	var kept store.Kept
	if err == nil {
		_, kept, err = s.admit(d, shop)
	}
	if err != nil {
		s.refuse(c, p, shop, s.where(c, p, c.PostForm), err, nil)
		return false
	}
	kept.Edit = store.Edit{By: visitorOf(c).Account, Undoes: target.ID}
	label := undoneLabel + target.Label
	if done == "redone" {
		label = "redone: " + strings.TrimPrefix(target.Label, undoneLabel)
	}
	if err := s.store.Save(h.ID, h.Head, d, said(label, ""), kept); err != nil {
		s.unmoved(c, h.ID, h.Head, done, err)
		return false
	}
	return true
}

// standsInTheWay says whose edit does, and why.
func standsInTheWay(chain []store.Revision, stands *design.Stands, done string) string {
	whose, what := "an edit", ""
	for _, r := range chain {
		if r.ID == stands.Step {
			what = r.Label
			if r.Name != "" {
				whose = r.Name + "’s edit"
			}
		}
	}
	why := map[error]string{design.ErrSame: "it is about the same", design.ErrUnknown: "what it changed is not kept",
		design.ErrOther: "without yours it would come to another bed"}[stands.Reason]
	if why == "" {
		why = "without yours it cannot be: " + strings.TrimSuffix(reason(stands.Reason), ".")
	}
	return fmt.Sprintf("That could not be %s: %s “%s” stands in the way, since %s. Nothing was changed; change it by"+
		" hand,"+
		" or go back in the log.", done, whose, what, why)
}

// says shows the project as it stands, with something said above it.
func (s *Server) says(c *gin.Context, base int64, status int, notice string) {
	p, shop, ok := s.project(c)
	if !ok {
		return
	}
	s.showBench(c, status, p, shop, s.where(c, p, c.PostForm), base, refused{notice: notice})
}

// did notes what was done, for those who look on.
func (s *Server) did(c *gin.Context, what string) { c.Set(doneKey, what) }

// since are the revisions that have come after one, the newest first; false where the head does not come of it.
func (s *Server) since(ctx context.Context, project, base int64) ([]store.Revision, bool, error) {
	list, err := s.store.Chain(ctx, project, lookBackFor)
	i := slices.IndexFunc(list, func(r store.Revision) bool { return r.ID == base })
	if err != nil || i < 0 {
		return nil, false, err
	}
	return list[:i], true, nil
}

// meanwhile says, of an edit that was made from an earlier revision, what others have changed since, and whether the
// two are about different things, so that both can hold.
func (s *Server) meanwhile(ctx context.Context, project, base int64, edits []design.Edit) (both bool, said string,
	err error) {
	list, ok, err := s.since(ctx, project, base)
	if err != nil || !ok {
		return false, "", err
	}
	both = true
	var changes []string
	for _, r := range list {
		theirs := r.Edits()
		meets := theirs == nil || design.Meet(edits, theirs)
		both = both && !meets
		if meets {
			by := ""
			if r.Name != "" {
				by = r.Name + ": "
			}
			changes = append(changes, "“"+by+r.Label+"”")
		}
	}
	return both, strings.Join(changes, ", "), nil
}
