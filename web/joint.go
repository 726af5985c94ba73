package web

import (
	"context"
	"net/http"
	"strconv"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"chamfer/store"
)

// What is done where this server is one of several that share a log: a browser that has seen something at one sees it
// at each of them, one that has lost touch answers nobody, and open pages hear of what is done at another.

// seenCookie is how far the shared log was when a browser last changed something. A server that is not as far waits for
// it, for so long, before it answers; then it says that it cannot yet.
const (
	seenCookie = "chamfer-seen"
	seenFor    = 60 // seconds
	longestLag = 8 * time.Second
)

// behindKey says, of a request, that this server has not what its browser has changed.
type behindKey struct{}

// inStep lets a request see what its browser has changed.
func (s *Server) inStep(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if _, is := s.store.Shared(); !is || strings.HasPrefix(r.URL.Path, staticPath) {
			next.ServeHTTP(w, r)
			return
		}
		if c, err := r.Cookie(seenCookie); err == nil {
			if at, err := strconv.ParseUint(c.Value, 10, 64); err == nil {
				ctx, cancel := context.WithTimeout(r.Context(), longestLag)
				if err := s.store.Await(ctx, at); err != nil {
					r = r.WithContext(context.WithValue(r.Context(), behindKey{}, err))
				}
				cancel()
			}
		}
		if r.Method == http.MethodPost {
			w = &stepping{ResponseWriter: w, s: s, secure: s.overHTTPS(r)}
		}
		next.ServeHTTP(w, r)
	})
}

// stepping says with an answer how far the log is.
type stepping struct {
	http.ResponseWriter
	s            *Server
	said, secure bool
}

func (w *stepping) say() {
	if !w.said {
		w.said = true
		http.SetCookie(w.ResponseWriter, &http.Cookie{Name: seenCookie, Value: strconv.FormatUint(w.s.store.Known(), 10),
			Path: "/", MaxAge: seenFor, HttpOnly: true, Secure: w.secure, SameSite: http.SameSiteLaxMode})
	}
}

// WriteHeader and Write say it first.
func (w *stepping) WriteHeader(status int) {
	w.say()
	w.ResponseWriter.WriteHeader(status)
}
func (w *stepping) Write(b []byte) (int, error) {
	w.say()
	return w.ResponseWriter.Write(b)
}

// Unwrap is for what asks for more of a writer.
func (w *stepping) Unwrap() http.ResponseWriter { return w.ResponseWriter }

// inTouch answers nobody while this server does not hear of what is done at the others: it would not know either who
// may not come in any more.
func (s *Server) inTouch(c *gin.Context) {
	if c.Request.URL.Path == "/healthz" || c.Request.URL.Path == "/readyz" ||
		strings.HasPrefix(c.Request.URL.Path, staticPath) {
		return
	}
	if err := c.Request.Context().Value(behindKey{}); err != nil {
		s.logOf(c).Warn("request", "path", pathOf(c), "err", err)
		c.Header("Retry-After", "2")
		s.fault(c, http.StatusServiceUnavailable, "This machine has not heard yet of what you just changed.",
			"What was saved is kept: try again in a moment.")
		c.Abort()
		return
	}
	if err := s.store.InTouch(); err != nil {
		s.logOf(c).Error("request", "path", pathOf(c), "err", err)
		c.Header("Retry-After", "5")
		s.fault(c, http.StatusServiceUnavailable, "This machine has lost touch with the others.",
			"What was saved is kept. It answers again once it hears of them: try again in a moment.")
		c.Abort()
	}
}

// hear lets open pages know of what was done at other servers.
func (s *Server) hear(h store.Heard) {
	for project, list := range h.Projects {
		by, what := "", "a change"
		for _, r := range list {
			if r.Label != "" {
				by, what = r.Name, r.Label
			}
		}
		s.live.changed(project, "", by, what)
	}
	for household := range h.Households {
		s.live.shared(household, 0, "", "a change of what its projects share")
	}
	if h.Access {
		s.live.check()
	}
	if h.Found {
		if err := s.recall(); err != nil {
			s.log.Warn("found", "err", err)
		}
		s.plans.forget()
		s.sizes.Forget()
	}
}
