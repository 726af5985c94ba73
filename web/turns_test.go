package web

import (
	"context"
	"errors"
	"fmt"
	"net"
	"net/url"
	"strings"
	"sync"
	"testing"
	"time"
)

// Of those that wait the more urgent go first, then those that have had least of late; who gives up leaves no trace,
// and
// no more wait than may.
func TestTurns(t *testing.T) {
	at := time.Unix(0, 0)
	q := newTurns()
	q.free, q.now = 1, func() time.Time { return at }
	first, err := q.take(t.Context(), aPage, "at 1", "project 1")
	if err != nil {
		t.Fatal(err)
	}
	order := make(chan string, 10)
	var wait sync.WaitGroup
	ask := func(name string, class urgency, whose ...string) {
		t.Helper()
		n := func() int { q.mu.Lock(); defer q.mu.Unlock(); return len(q.waiting[class]) }
		before := n()
		wait.Go(func() {
			mine, err := q.take(t.Context(), class, whose...)
			if err != nil {
				t.Error(err)
				return
			}
			order <- name
			mine.done()
			mine.done()
		})
		for n() == before {
			time.Sleep(time.Millisecond)
		}
	}
	ask("the rest", theRest, "at 2", "project 2")
	ask("a heavy project's page", aPage, "at 2", "project 1")
	ask("a page from where much is asked", aPage, "at 1", "project 3")
	ask("a page", aPage, "at 3", "project 4")
	ask("the next page", aPage, "at 3", "project 4")
	ask("a heavy project's edit", inHandNow, "at 1", "project 1")
	gone, stop := context.WithCancel(t.Context())
	stop()
	if _, err := q.take(gone, inHandNow, "at 4"); !errors.Is(err, context.Canceled) {
		t.Errorf("who gave up: %v", err)
	}
	q.mu.Lock()
	at = at.Add(time.Second) // that the first one took
	q.mu.Unlock()
	time.AfterFunc(2*time.Second, func() { q.mu.Lock(); q.free++; q.next(); q.mu.Unlock() }) // the rest leaves one free
	first.done()
	wait.Wait()
	close(order)
	var got []string
	for name := range order {
		got = append(got, name)
	}
	want := "[a heavy project's edit, a page, the next page, a heavy project's page, a page from where much is asked," +
		" the rest]"
	if s := "[" + strings.Join(got, ", ") + "]"; s != want {
		t.Errorf("the order is %s, want %s", s, want)
	}
	// What is asked for last makes way between two pieces of work, and goes on after a while all the same.
	q = newTurns()
	q.free = 2
	rest, err := q.take(t.Context(), theRest, "at 1")
	if err != nil {
		t.Fatal(err)
	}
	other, err := q.take(t.Context(), aPage, "at 1")
	if err != nil {
		t.Fatal(err)
	}
	had := make(chan *turn)
	go func() {
		mine, err := q.take(t.Context(), inHandNow, "at 2")
		if err != nil {
			t.Error(err)
		}
		had <- mine
	}()
	for waits := false; !waits; {
		q.mu.Lock()
		waits = len(q.waiting[inHandNow]) > 0
		q.mu.Unlock()
	}
	went := make(chan bool)
	go func() { rest.makeWay(); close(went) }()
	edit := <-had
	select {
	case <-went:
		t.Error("it went on while it had no turn")
	case <-time.After(20 * time.Millisecond):
	}
	edit.done()
	<-went
	other.done()
	rest.done()
	if q.free != 2 {
		t.Errorf("%d turns are free of 2", q.free)
	}
	q.free = -mostWaiting
	for range mostWaiting {
		go func() { _, _ = q.take(t.Context(), theRest, "at 9") }()
	}
	for full := false; !full; {
		q.mu.Lock()
		full = len(q.waiting[theRest]) == mostWaiting
		q.mu.Unlock()
	}
	if _, err := q.take(t.Context(), inHandNow, "at 2"); !errors.Is(err, errCrowded) {
		t.Errorf("one more: %v", err)
	}
}

// Who takes an answer slowly, or says half of a question, holds up nobody else.
func TestSlowClients(t *testing.T) {
	s := newSite(t)
	at := strings.TrimPrefix(s.URL, "http://")
	for i := range 60 {
		c, err := net.Dial("tcp", at)
		if err != nil {
			t.Fatal(err)
		}
		t.Cleanup(func() { c.Close() })
		if i%2 == 0 { // asks for much and reads nothing of it
			_ = c.(*net.TCPConn).SetReadBuffer(1)
			fmt.Fprintf(c, "%s", strings.Repeat(fmt.Sprintf("GET /p/3/bed HTTP/1.1\r\nHost: %s\r\n\r\n", at), 20))
		} else {
			fmt.Fprintf(c, "POST /p/1/edit HTTP/1.1\r\nHost: %s\r\nContent-Length: 4000\r\n\r\nstage=bed&le", at)
		}
	}
	done := make(chan int)
	go func() {
		_, code := s.post("/p/2/edit", url.Values{"stage": {"bed"}, "soil": {"11 in"}})
		done <- code
	}()
	select {
	case code := <-done:
		if code != 200 {
			t.Errorf("an edit beside them: %d", code)
		}
	case <-time.After(15 * time.Second):
		t.Error("an edit beside them is not answered")
	}
}
