package web

import (
	"bytes"
	"regexp"
	"strings"

	"github.com/gin-gonic/gin"

	"chamfer/people"
)

// hands fits a page of the bench to whoever looks: what they may undo, what they may do at all.
func (s *Server) hands(c *gin.Context, b *benchPage) error {
	b.V = visitorOf(c)
	b.Keeps, b.Designs, b.Downs = may(c, people.Keep), may(c, people.Design), may(c, people.TakeDown)
	if role, ok := c.Get(roleKey); ok && role != people.Owner {
		b.As = string(role.(people.Role))
	}
	if b.V.Free {
		return nil
	}
	for _, l := range b.V.Shares {
		b.Copies = b.Copies || l.Project != nil && *l.Project == b.ID && l.Note == copyPurpose
	}
	inShed, err := s.mayShed(c, b.Project.Household, people.Look)
	if err != nil {
		return err
	}
	if body, ok := b.Body.(cutsBody); ok && !inShed {
		body.Shed = shedView{Hidden: true, Away: body.Shed.Away, Leaves: body.Shed.Leaves}
		b.Body = body
	}
	if body, ok := b.Body.(logBody); ok && !inShed && body.Used != nil {
		body.Used.Learnt = nil // it rests on all of the household's jobs
	}
	if !inShed { // what shops ask by now stands in the household's book
		switch body := b.Body.(type) {
		case billBody:
			body.Moved, body.Shed = nil, nil
			b.Body = body
		case shopBody:
			body.Moved = nil
			b.Body = body
		}
	}
	o, err := s.ownOf(asked(c), b.V, b.Project.Standing, b.Designs)
	if err != nil {
		return err
	}
	b.CanUndo, b.CanRedo, b.UndoWhat = o.undo != nil || o.moves.undo, o.redo != nil || o.moves.redo, ""
	if o.undo != nil {
		b.UndoWhat = o.undo.Label
	}
	if body, ok := b.Body.(logBody); ok && b.V.Account == 0 { // names are the household's
		for i := range body.Entries {
			body.Entries[i].By = ""
		}
	}
	return nil
}

// mayShed reports whether a visitor may do something with the shed of a household: its members may, as their role says;
// whoever came to one project only sees of it what that project counts on.
func (s *Server) mayShed(c *gin.Context, household int64, do people.Right) (bool, error) {
	v := visitorOf(c)
	if v.Free || !v.Is() {
		return v.Free, nil
	}
	of, _, err := s.store.RoleIn(asked(c), household, 0, v.Account)
	return of.May(do), err
}

// form finds the forms of a page and what each posts to.
var form = regexp.MustCompile(`(?s)<form method="post" action="(/[^"]*)"[^>]*>.*?</form>`)

// withhold takes out of reach, on a page of a project, every form that whoever looks may not send: it is shown as it
// stands, and takes no hand. The server refuses it all the same.
func (s *Server) withhold(c *gin.Context, page []byte) []byte {
	if visitorOf(c).Free || may(c, people.Keep) {
		return page
	}
	if _, known := c.Get(roleKey); !known {
		return page
	}
	return form.ReplaceAllFunc(page, func(f []byte) []byte {
		action := string(form.FindSubmatch(f)[1])
		parts := strings.SplitN(strings.TrimPrefix(action, "/p/"), "/", 2)
		if !strings.HasPrefix(action, "/p/") || len(parts) < 2 {
			return f
		}
		do, known := s.needs[strings.SplitN(parts[1], "?", 2)[0]]
		if parts[1] == "edit" {
			do = people.Design
			for _, down := range []string{`name="price:`, `name="have:`, `without:`} {
				if bytes.Contains(f, []byte(down)) {
					do = people.TakeDown
				}
			}
		}
		if !known || may(c, do) {
			return f
		}
		return bytes.Replace(f, []byte("<form "), []byte(`<form inert `), 1)
	})
}
