package web

import (
	"context"
	"fmt"
	"runtime/debug"
	"sync"
	"time"

	"chamfer/core/aside"
	"chamfer/core/plan"
)

// A search for another bed goes on beside the pages: whoever asked is shown how far it is, can stop it and keep what it
// found, and finds its answer where they ask again. One that nobody asks after is stopped.

const (
	seekShown   = 400 * time.Millisecond // what is found by then is shown at once
	seekLeft    = 12 * time.Second       // nobody asks after it any more
	seekTime    = 2 * time.Minute        // no search takes longer
	mostSeeking = 2                      // go on at once; others wait their turn
	mostSought  = 24                     // answers are kept
)

// seeking is one search, going on or done.
type seeking struct {
	watch plan.Watch
	stop  context.CancelFunc
	done  chan struct{}

	mu    sync.Mutex
	asked time.Time
	ended bool // by a person

	found any // once it is done
	err   error
}

// seekings are those that there are, by what was asked, the last asked for last.
type seekings struct {
	mu    sync.Mutex
	by    map[string]*seeking
	order []string
	slots chan struct{}
	ended bool
	wait  sync.WaitGroup
}

// of is the search for something: the one that there is, or a new one. Nil where the server ends.
func (s *seekings) of(key string, find func(ctx context.Context) (any, error)) *seeking {
	s.mu.Lock()
	defer s.mu.Unlock()
	if on, ok := s.by[key]; ok {
		on.ask()
		return on
	}
	if s.ended {
		return nil
	}
	if s.by == nil {
		s.by, s.slots = map[string]*seeking{}, make(chan struct{}, mostSeeking)
	}
	for len(s.order) >= mostSought {
		s.by[s.order[0]].stop()
		delete(s.by, s.order[0])
		s.order = s.order[1:]
	}
	ctx, stop := context.WithTimeout(context.Background(), seekTime)
	on := &seeking{stop: stop, done: make(chan struct{}), asked: time.Now()}
	s.by[key], s.order = on, append(s.order, key)
	s.wait.Go(func() { on.goOn(plan.Watched(ctx, &on.watch), s.slots, find) })
	return on
}

// drop forgets a search, so that it is begun anew.
func (s *seekings) drop(key string) {
	s.mu.Lock()
	defer s.mu.Unlock()
	delete(s.by, key)
	for i, k := range s.order {
		if k == key {
			s.order = append(s.order[:i:i], s.order[i+1:]...)
			return
		}
	}
}

// end stops all, and waits for them.
func (s *seekings) end() {
	s.mu.Lock()
	s.ended = true
	for _, on := range s.by {
		on.stop()
	}
	s.mu.Unlock()
	s.wait.Wait()
}

func (on *seeking) ask() {
	on.mu.Lock()
	on.asked = time.Now()
	on.mu.Unlock()
}

// end stops it for a person, who keeps what was found.
func (on *seeking) end() {
	on.mu.Lock()
	on.ended = true
	on.mu.Unlock()
	on.stop()
}

// left reports whether nobody asks after it.
func (on *seeking) left() bool {
	on.mu.Lock()
	defer on.mu.Unlock()
	return time.Since(on.asked) > seekLeft
}

func (on *seeking) goOn(ctx context.Context, slots chan struct{}, find func(ctx context.Context) (any, error)) {
	defer close(on.done)
	defer on.stop()
	select {
	case slots <- struct{}{}:
		defer func() { <-slots }()
	case <-ctx.Done():
		on.err = ctx.Err()
		return
	}
	over := make(chan struct{})
	defer close(over)
	go func() {
		tick := time.NewTicker(time.Second)
		defer tick.Stop()
		for {
			select {
			case <-over:
				return
			case <-tick.C:
				if on.left() {
					on.stop()
				}
			}
		}
	}()
	defer func() {
		if r := recover(); r != nil {
			on.err = &aside.Fault{Reason: r, Stack: debug.Stack()}
		}
	}()
	on.found, on.err = find(ctx)
}

// within waits a moment for the answer.
func (on *seeking) within(ctx context.Context, moment time.Duration) bool {
	wait := time.NewTimer(moment)
	defer wait.Stop()
	select {
	case <-on.done:
		return true
	case <-wait.C:
	case <-ctx.Done():
	}
	return false
}

// words say how far it is.
func (on *seeking) words() string {
	done, all := on.watch.Tried()
	if all == 0 {
		return "It waits its turn."
	}
	return fmt.Sprintf("%d of %d tried.", done, all)
}
