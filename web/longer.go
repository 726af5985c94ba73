package web

import (
	"context"
	"fmt"
	"maps"
	"net/http"
	"runtime/debug"
	"slices"
	"strconv"
	"sync"
	"time"

	"github.com/gin-gonic/gin"

	"chamfer/core/cutting"
	"chamfer/core/money"
	"chamfer/core/plan"
)

// A page is shown with the best boards that a tenth of a second finds. Where a cheaper
// way may exist, a longer search is one press away: it goes on beside the pages, tells
// of the best so far, and can be stopped, keeping that.

// A longer search may be so much work, and take so long where that takes longer.
const (
	longerEffort = 60 * cutting.SecondsEffort
	longerTime   = time.Minute
)

// mostLonger is how many longer searches go on at once.
const mostLonger = 2

// search is a longer search that is going on.
type search struct {
	was, best money.Amount
	since     time.Time
	stop      chan struct{}
	halted    bool // stop is closed
	stopped   bool // by a person
}

// searches are those that are going on, by their job.
type searches struct {
	mu    sync.Mutex
	on    map[string]*search
	ended bool           // no more are begun
	wait  sync.WaitGroup // for those that go on
}

// of is a copy of the search for a job.
func (s *searches) of(job string) (search, bool) {
	s.mu.Lock()
	defer s.mu.Unlock()
	if on, ok := s.on[job]; ok {
		return *on, true
	}
	return search{}, false
}

// begin notes a search for a job; nil where one is going on, or too many are.
func (s *searches) begin(job string, was money.Amount) (on *search, full bool) {
	s.mu.Lock()
	defer s.mu.Unlock()
	if _, ok := s.on[job]; ok {
		return nil, false
	}
	if len(s.on) >= mostLonger || s.ended {
		return nil, true
	}
	if s.on == nil {
		s.on = map[string]*search{}
	}
	on = &search{was: was, best: was, since: time.Now(), stop: make(chan struct{})}
	s.on[job] = on
	s.wait.Add(1)
	return on, false
}

// better notes the price of a better plan.
func (s *searches) better(on *search, cost money.Amount) {
	s.mu.Lock()
	defer s.mu.Unlock()
	on.best = min(on.best, cost)
}

// halt ends a search: its time is up, or a person has stopped it.
func (s *searches) halt(job string, stopped bool) {
	s.mu.Lock()
	defer s.mu.Unlock()
	on, ok := s.on[job]
	if !ok {
		return
	}
	on.stopped = on.stopped || stopped
	if !on.halted {
		on.halted = true
		close(on.stop)
	}
}

// over takes a search that has ended off the list.
func (s *searches) over(job string) {
	s.mu.Lock()
	defer s.mu.Unlock()
	delete(s.on, job)
	s.wait.Done()
}

// end stops all searches, and waits until what they came to is kept.
func (s *searches) end() {
	s.mu.Lock()
	s.ended = true
	jobs := slices.Sorted(maps.Keys(s.on))
	s.mu.Unlock()
	for _, job := range jobs {
		s.halt(job, true)
	}
	s.wait.Wait()
}

// searchLonger is what a longer search does.
var searchLonger = (*cutting.Memo).Longer

// longer begins a longer search for a way to cut a kind of board, stops it, or shows
// how far it is.
func (s *Server) longer(c *gin.Context) {
	p, pl, ok := s.planned(c)
	if !ok {
		return
	}
	w := s.where(c, p, c.PostForm)
	w.Stage = "cuts"
	at, err := strconv.Atoi(c.PostForm("group"))
	if err != nil || at < 0 || at >= len(pl.Cuts) {
		s.fault(
			c,
			http.StatusBadRequest,
			"There is no such kind of board in this plan.",
			"It may have been planned anew since: go back to the cuts.",
		)
		return
	}
	cut := pl.Cuts[at]
	switch job := cut.Request.Job(); c.PostForm("how") {
	case "stop":
		s.longerOn.halt(job, true)
	case "watch":
	default:
		on, full := s.longerOn.begin(job, cut.Answer.Cost)
		if full {
			s.showBench(
				c,
				http.StatusConflict,
				p,
				pl.Shop,
				w,
				w.Since,
				refused{
					notice: fmt.Sprintf(
						"%d searches are going on already. Stop one of them, or wait until it has ended, and"+
							" press again.",
						mostLonger,
					),
				},
			)
			return
		}
		if on != nil {
			go s.search(job, on, cut)
		}
	}
	s.after(c, p.ID, w, w.Since, nil)
}

// search searches to its end, and keeps what it comes to.
func (s *Server) search(job string, on *search, cut plan.Cuts) {
	defer s.longerOn.over(job)
	defer func() {
		if r := recover(); r != nil {
			s.log.Error("panic", "path", "longer search", "reason", r, "stack", string(debug.Stack()))
		}
	}()
	r := cut.Request
	r.Effort, r.Like, r.Stop = longerEffort, cut.Answer.Boards, on.stop
	r.Progress = func(_ string, cost money.Amount) { s.longerOn.better(on, cost) }
	up := time.AfterFunc(longerTime, func() { s.longerOn.halt(job, false) })
	defer up.Stop()
	f, err := searchLonger(&s.cut, r)
	s.plans.forget()
	s.sizes.Forget()
	if err == nil {
		now, _ := s.longerOn.of(job)
		err = s.keep(f, now.stopped)
	}
	if err != nil {
		s.log.Error("longer search", "err", err)
	}
}

// keep keeps what a search has come to. One whose time was up has ended, too.
func (s *Server) keep(f cutting.Found, stopped bool) error {
	if !f.Ended && !stopped {
		f.Ended = true
		f = s.cut.Recall(f)
		s.plans.forget()
		s.sizes.Forget()
	}
	raw, err := f.MarshalBinary()
	if err != nil {
		return err
	}
	return s.store.KeepFound(f.Job, raw)
}

// recall remembers what longer searches came to before the program was started.
func (s *Server) recall() error {
	list, err := s.store.Found(context.Background())
	if err != nil {
		return err
	}
	for _, raw := range list {
		var f cutting.Found
		if err := f.UnmarshalBinary(raw); err != nil {
			s.log.Warn("left out", "err", err) // of another version; it can be searched for again
			continue
		}
		s.cut.Recall(f)
	}
	return nil
}

// found is what longer searches came to for the boards of a plan.
func (s *Server) found(pl *plan.Plan) []cutting.Found {
	var list []cutting.Found
	for _, c := range pl.Cuts {
		if f, ok := s.cut.Searched(c.Request); ok {
			list = append(list, f)
		}
	}
	return list
}

// longerView is what a page says of a longer search: that one can be made, how far it
// is, or that it found nothing cheaper.
type longerView struct {
	Offer, On, Stopped bool
	Words              string
}

func (s *Server) longerView(c plan.Cuts, cur money.Currency) longerView {
	if len(c.Request.Pieces) == 0 || c.Answer.Proved || len(c.Answer.Unmet) > 0 {
		return longerView{}
	}
	if on, ok := s.longerOn.of(c.Request.Job()); ok {
		v := longerView{
			On:      true,
			Stopped: on.halted,
			Words: fmt.Sprintf(
				"Looking, %d of %d seconds: nothing cheaper yet.",
				int(time.Since(on.since).Seconds()),
				int(longerTime.Seconds()),
			),
		}
		if on.best < on.was {
			v.Words = fmt.Sprintf(
				"Looking, %d of %d seconds: the best so far costs %s, %s less.",
				int(time.Since(on.since).Seconds()),
				int(longerTime.Seconds()),
				cur.Format(on.best),
				cur.Format(on.was-on.best),
			)
		}
		if on.halted {
			v.Words = "Stopping; the best so far is kept."
		}
		return v
	}
	f, ok := s.cut.Searched(c.Request)
	switch {
	case ok && (f.Answer.Cost != c.Answer.Cost || f.Answer.LowerBound != c.Answer.LowerBound):
		// It ended while this page was planned: the next shows what it came to.
		return longerView{On: true, Stopped: true, Words: "The search has ended; what it came to is next."}
	case ok && f.Ended:
		return longerView{Words: "A search of a minute found none cheaper."}
	}
	return longerView{Offer: true}
}
