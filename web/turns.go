package web

import (
	"context"
	"errors"
	"math"
	"net/http"
	"runtime"
	"slices"
	"strings"
	"sync"
	"time"

	"github.com/gin-gonic/gin"

	"chamfer/core/plan"
)

// urgency is how soon something is wanted: what is in somebody's hand first, then pages, then what else could be.
type urgency int

const (
	inHandNow urgency = iota
	aPage
	theRest
	urgencies
)

// Bounds of waiting: how many wait at once, how long one does before it is told to come back, and how long what is
// asked
// for last makes way for others before it goes on beside them.
const (
	mostWaiting = 2000
	longestWait = 20 * time.Second
	longestWay  = 4 * time.Second
	restsAsPage = 1500 * time.Millisecond // after which the rest of a page is wanted as a page is
	usageHalves = 10 * time.Second
	mostUsers   = 10_000
)

// errCrowded says that too many wait, or one has waited for too long.
var errCrowded = errors.New("too many are at work")

// turns let so many requests reckon at once as there are processors. Of those that wait the more urgent go first; among
// them those whose project and whose address have had the least time of late, so that a heavy project, or one machine
// that
// asks without end, slows only itself.
type turns struct {
	mu      sync.Mutex
	free    int
	waiting [urgencies][]*turn
	used    map[string]usage
	now     func() time.Time
}

// usage is time that was had, halved every [usageHalves].
type usage struct {
	had float64 // seconds
	at  time.Time
}

func (u usage) by(now time.Time) float64 {
	return u.had * math.Exp2(-now.Sub(u.at).Seconds()/usageHalves.Seconds())
}

// turn is one that waits, or has it.
type turn struct {
	of     *turns
	class  urgency
	whose  []string
	asked  time.Time
	ready  chan struct{}
	began  time.Time
	paused int // how many of its goroutines make way
	made   time.Duration
	over   bool
}

func newTurns() *turns {
	return &turns{free: max(2, runtime.GOMAXPROCS(0)), used: map[string]usage{}, now: time.Now}
}

// take waits for a turn. It fails with [errCrowded], or where ctx is done.
func (t *turns) take(ctx context.Context, class urgency, whose ...string) (*turn, error) {
	mine := &turn{of: t, class: class, whose: whose, asked: t.now(), ready: make(chan struct{})}
	t.mu.Lock()
	n := 0
	for _, list := range t.waiting {
		n += len(list)
	}
	if n >= mostWaiting {
		t.mu.Unlock()
		return nil, errCrowded
	}
	t.waiting[class] = append(t.waiting[class], mine)
	t.next()
	t.mu.Unlock()
	late := time.NewTimer(longestWait)
	defer late.Stop()
	var why error
	select {
	case <-mine.ready:
		return mine, nil
	case <-ctx.Done():
		why = ctx.Err()
	case <-late.C:
		why = errCrowded
	}
	t.mu.Lock()
	defer t.mu.Unlock()
	if i := slices.Index(t.waiting[mine.class], mine); i >= 0 {
		t.waiting[mine.class] = slices.Delete(t.waiting[mine.class], i, i+1)
		return nil, why
	}
	return mine, nil // it came meanwhile
}

// next gives turns that are free to whoever is to have them. What is wanted last leaves one for what is urgent.
func (t *turns) next() {
	now := t.now()
	t.waiting[theRest] = slices.DeleteFunc(t.waiting[theRest], func(w *turn) bool {
		if now.Sub(w.asked) < restsAsPage {
			return false
		}
		w.class = aPage
		t.waiting[aPage] = append(t.waiting[aPage], w)
		return true
	})
	for class := range t.waiting {
		for len(t.waiting[class]) > 0 && t.free > 0 && (urgency(class) < theRest || t.free > 1) {
			best, least := 0, math.Inf(1)
			for i, w := range t.waiting[class] {
				if had := t.had(w, now); had < least {
					best, least = i, had
				}
			}
			w := t.waiting[class][best]
			t.waiting[class] = slices.Delete(t.waiting[class], best, best+1)
			t.free--
			w.began = now
			close(w.ready)
		}
	}
}

func (t *turns) had(w *turn, now time.Time) (had float64) {
	for _, key := range w.whose {
		had += t.used[key].by(now)
	}
	return had
}

// ahead is whether anybody waits whose wish is more urgent.
func (t *turns) ahead(class urgency) bool {
	for c := range class {
		if len(t.waiting[c]) > 0 {
			return true
		}
	}
	return false
}

// done gives a turn back; more than once does no harm.
func (w *turn) done() {
	if w == nil {
		return
	}
	t := w.of
	t.mu.Lock()
	defer t.mu.Unlock()
	if w.over {
		return
	}
	w.over = true
	if w.paused == 0 {
		t.free++
	}
	now := t.now()
	if len(t.used) > mostUsers {
		for key, u := range t.used {
			if u.by(now) < 0.01 {
				delete(t.used, key)
			}
		}
	}
	for _, key := range w.whose {
		t.used[key] = usage{t.used[key].by(now) + max(0, now.Sub(w.began)-w.made).Seconds(), now}
	}
	t.next()
}

// makeWay lets whatever is more urgent go first, between two pieces of work: the turn is lent, and had again once
// nobody
// waits for it. It does so for a while at most.
func (w *turn) makeWay() {
	t := w.of
	t.mu.Lock()
	defer t.mu.Unlock()
	if w.over || w.made >= longestWay || !t.ahead(w.class) {
		return
	}
	if w.paused++; w.paused == 1 {
		t.free++
		t.next()
	}
	began := t.now()
	const nap = 2 * time.Millisecond
	for w.paused > 0 && w.made+t.now().Sub(began) < longestWay && (t.free <= 0 || t.ahead(w.class)) {
		t.mu.Unlock()
		time.Sleep(nap)
		t.mu.Lock()
	}
	if w.paused--; w.paused == 0 && !w.over {
		t.free-- // beside the others, where it has made way for long enough
		w.made += t.now().Sub(began)
	}
}

// heavy is what takes long, or comes often: it leaves a processor to what is in somebody's hand.
var heavy = []string{"/kinds", "/p/:id/files/:file", "/p/:id/compare", "/p/:id/seek", "/p/:id/where",
	"/p/:id/drag/preview"}

// turnKey is where a request keeps its turn.
const turnKey = "turn"

// inTurn lets a request reckon when it is its turn. What it answers with is sent once that is over ([Server.reckoned]):
// whoever takes it slowly holds nobody up.
func (s *Server) inTurn(c *gin.Context) {
	class := aPage
	switch {
	case c.Request.Method == http.MethodPost:
		class = inHandNow
	case c.GetHeader("X-Chamfer-Late") == "rest", slices.Contains(heavy, c.FullPath()):
		class = theRest
	}
	whose := []string{"at " + s.place(c.Request)}
	if id := c.Param("id"); id != "" {
		whose = append(whose, "project "+id)
	}
	mine, err := s.turns.take(c.Request.Context(), class, whose...)
	if errors.Is(err, errCrowded) {
		c.Header("Retry-After", "5")
		s.fault(c, http.StatusServiceUnavailable, "Too many are at work just now.",
			"Nothing has been changed. Wait a moment, then go back and press again.")
		c.Abort()
		return
	}
	if err != nil {
		c.Abort()
		return
	}
	c.Set(turnKey, mine)
	defer mine.done()
	c.Request = c.Request.WithContext(plan.MakingWay(c.Request.Context(), mine.makeWay))
	c.Next()
}

// reckoned says that a request has nothing more to reckon, only to send.
func reckoned(c *gin.Context) {
	if mine, ok := c.Get(turnKey); ok {
		mine.(*turn).done()
	}
}

// reckons is whether what a route answers with has to be planned or drawn.
func reckons(w route) bool {
	switch w.path {
	case "/", "/kinds", "/projects", importPath, "/shops":
		return true
	case "/p/:id/events", "/p/:id/text", "/p/:id/photo/:photo", "/p/:id/phone":
		return false
	}
	return strings.HasPrefix(w.path, "/p/:id/")
}
