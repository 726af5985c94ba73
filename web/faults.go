package web

import (
	"errors"
	"net/http"
	"runtime/debug"

	"github.com/gin-gonic/gin"

	"chamfer/core/aside"
	"chamfer/store"
)

type faultPage struct {
	Title, Text, Hint string
	Restore           int64 // project that can be brought back
}

func (s *Server) fault(c *gin.Context, status int, text, hint string) {
	s.show(c, status, "fault.html", faultPage{Title: "Chamfer", Text: text, Hint: hint})
}

// recovered turns a panic into a page, and says where it was in the log.
func (s *Server) recovered(c *gin.Context) {
	defer func() {
		r := recover()
		if r == nil {
			return
		}
		if r == http.ErrAbortHandler {
			panic(r)
		}
		stack := debug.Stack()
		if f, ok := r.(*aside.Fault); ok {
			stack = f.Stack
		}
		s.figures.panicked()
		s.logOf(c).Error(
			"panic",
			"method",
			c.Request.Method,
			"path",
			pathOf(c),
			"reason",
			r,
			"stack",
			string(stack),
		)
		if c.Writer.Written() {
			c.Abort()
			return
		}
		s.unexpected(c)
		c.Abort()
	}()
	c.Next()
}

// unexpected answers what nobody foresaw.
func (s *Server) unexpected(c *gin.Context) {
	s.fault(
		c,
		http.StatusInternalServerError,
		"That went wrong in the program itself.",
		"Nothing has been lost: everything that was saved before is there. Go back to your beds; if it happens"+
			" again, the log of the program says where, under "+c.GetString(requestKey)+", and the project can be taken back"+
			" by undo in its log.",
	)
}

// trouble answers an error.
func (s *Server) trouble(c *gin.Context, err error) {
	var damaged *store.Damaged
	var fault *aside.Fault
	switch {
	case c.Request.Context().Err() != nil && errors.Is(err, c.Request.Context().Err()): // nobody waits for an answer
		c.Abort()
		return
	case errors.Is(err, store.ErrNotFound):
		s.fault(
			c,
			http.StatusNotFound,
			"There is no such project.",
			"It may have been made in another file of projects.",
		)
		return
	case errors.Is(err, store.ErrNoRevision):
		s.fault(
			c,
			http.StatusNotFound,
			"There is no such revision of this project.",
			"Its log lists the revisions there are.",
		)
		return
	case errors.Is(err, store.ErrDeleted):
		s.gone(c, 0)
		return
	case errors.As(err, &damaged):
		s.mendPage(c, damaged.Project, err)
		return
	}
	s.logOf(c).Error("request", "method", c.Request.Method, "path", pathOf(c), "err", err)
	switch why := store.Why(err); {
	case why == store.Full:
		s.fault(
			c,
			http.StatusInsufficientStorage,
			"The disk is full.",
			"This change was not kept; all changes before it are."+
				" Make some room on the disk that holds your file of projects, then go back and press again.",
		)
	case why == store.ReadOnly:
		s.fault(
			c,
			http.StatusInsufficientStorage,
			"The file of projects may not be written.",
			"This change was not kept; all changes before it are. Allow the file and its folder to be written, or"+
				" start Chamfer with --data and another file, then go back and press again.",
		)
	case why == store.Disk:
		s.fault(
			c,
			http.StatusInsufficientStorage,
			"The disk did not take that.",
			"It is not certain that this change was kept; all changes before it are. The disk may be full, unplugged or"+
				" failing: see that it is well, take a copy with “chamfer backup”, then look whether the change is there"+
				" before you press again.",
		)
	case why == store.Busy:
		s.fault(
			c,
			http.StatusServiceUnavailable,
			"The file of projects is busy.",
			"Others have kept it to themselves for more than five seconds. This change was not kept: go back and press again.",
		)
	case errors.Is(err, store.ErrMuch):
		s.fault(c, http.StatusRequestEntityTooLarge, "That is too much at once.",
			"Nothing was changed. Do it in parts: delete or change fewer projects, boards or photos at a time.")
	case errors.Is(err, store.ErrUnsaid):
		s.fault(
			c,
			http.StatusServiceUnavailable,
			"The log that several machines share did not answer in time.",
			"It is not certain that this change was kept; all changes before it are. Wait a moment, then look whether it"+
				" is there before you press again.",
		)
	case why == store.Corrupt:
		s.fault(
			c,
			http.StatusInternalServerError,
			"The file of projects is damaged.",
			"Stop Chamfer, keep the file aside, and bring back a copy with “chamfer restore”.",
		)
	case errors.As(err, &fault):
		s.figures.panicked()
		s.logOf(c).Error("panic", "path", pathOf(c), "reason", fault.Reason, "stack", string(fault.Stack))
		s.unexpected(c)
	default:
		s.unexpected(c)
	}
}

// gone answers for a project that has been deleted.
func (s *Server) gone(c *gin.Context, id int64) {
	s.show(c, http.StatusGone, "fault.html", faultPage{Title: "Deleted", Text: "This project has been deleted.",
		Hint:    "Nothing was changed in it. It can be brought back, now or later, from the list of deleted projects.",
		Restore: id})
}
