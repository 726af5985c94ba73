package web

import (
	"context"
	"errors"
	"fmt"
	"net/http"
	"os"
	"path/filepath"
	"sync"
	"time"

	"github.com/gin-gonic/gin"

	"chamfer/core/measure"
	"chamfer/core/plan"
	"chamfer/store"
)

// How copies are made by themselves: not in the first moments, then whenever an hour finds that there is none of today.
const (
	firstCopyAfter = 20 * time.Second
	copyEvery      = time.Hour
	againAfter     = time.Minute // between two that are asked for
)

// copying is what goes on with copies.
type copying struct {
	mu      sync.Mutex
	going   bool
	last    time.Time // when the last one that was asked for was begun
	trouble string    // why the last one came to nothing, "" where it did not
	at      time.Time
	done    sync.WaitGroup
	end     chan struct{}
	once    sync.Once
}

func (c *copying) ended() chan struct{} {
	c.mu.Lock()
	defer c.mu.Unlock()
	if c.end == nil {
		c.end = make(chan struct{})
	}
	return c.end
}

func (c *copying) stop() {
	end := c.ended()
	c.once.Do(func() { close(end) })
	c.done.Wait()
}

// begin takes the turn, false where one is being made.
func (c *copying) begin() bool {
	c.mu.Lock()
	defer c.mu.Unlock()
	if c.going {
		return false
	}
	c.going = true
	return true
}

// settle gives the turn back, and keeps what went wrong.
func (c *copying) settle(err error) {
	c.mu.Lock()
	defer c.mu.Unlock()
	c.going, c.trouble = false, ""
	if err != nil {
		c.trouble, c.at = whyNoCopy(err), time.Now()
	}
}

func whyNoCopy(err error) string {
	switch store.Why(err) {
	case store.Full:
		return "there is no room for it on the disk"
	case store.ReadOnly:
		return "the folder of the file may not be written"
	case store.Disk:
		return "the disk does not do as it is told"
	}
	return err.Error()
}

// KeepCopies makes a copy of the file of projects each day, looks through it and plans every project from it, until the
// server is told to end.
func (s *Server) KeepCopies() {
	end := s.copying.ended()
	s.copying.done.Go(func() {
		for wait := firstCopyAfter; ; wait = copyEvery {
			select {
			case <-end:
				return
			case <-time.After(wait):
			}
			if s.store.DueCopy() && s.copying.begin() {
				s.copying.settle(s.copy(end))
			}
			s.pack(end)
		}
	})
}

// packRest is how long it rests between two packs, so that whoever writes does not feel it.
const packRest = 100 * time.Millisecond

// pack packs what old versions there are to pack.
func (s *Server) pack(end <-chan struct{}) {
	for more := true; more; {
		var err error
		if more, err = s.store.PackOld(); err != nil {
			s.log.Warn("pack", "err", err)
			return
		}
		select {
		case <-end:
			return
		case <-time.After(packRest):
		}
	}
	if done, err := s.store.Compact(); err != nil {
		s.log.Warn("pack", "err", err)
	} else if done {
		s.log.Info("pack", "written anew", filepath.Base(s.store.Path()))
	}
}

// copy makes one and looks through it.
func (s *Server) copy(end <-chan struct{}) error {
	c, err := s.store.CopyNow()
	if err == nil {
		err = s.lookThrough(&c, end, func(took time.Duration) time.Duration { return took })
	}
	if err != nil {
		s.log.Error("copy", "err", err)
		return err
	}
	if err := s.store.PutCopy(context.Background(), c.Path); err != nil {
		s.log.Warn("copy", "beside the shared log", err)
	}
	s.log.Info("copy", "file", filepath.Base(c.Path), "projects", c.Projects, "planned", c.Planned, "short", c.Short,
		"damaged", c.Damaged)
	return nil
}

// lookThrough plans every project from a copy, resting after each as rest says, so that whoever is at work does not
// feel
// it, and writes into the copy what came of it.
func (s *Server) lookThrough(c *store.Copy, end <-chan struct{}, rest func(took time.Duration) time.Duration) error {
	from, err := store.OpenCopy(c.Path)
	if err != nil {
		return err
	}
	found := c.Looked
	found.Planned, found.Short, found.Unplanned = 0, 0, nil
	twin := &Server{store: from, log: s.log}
	ctx := context.Background()
	err = from.EachProject(ctx, func(h store.Standing) error {
		began := time.Now()
		at, err := h.Read()
		var damaged *store.Damaged
		if errors.As(err, &damaged) {
			return nil // it is counted
		}
		err = planned(func() error {
			shop, _, err := twin.shopFor(ctx, h.Household, at.Design.Region, h.ID)
			if err == nil {
				_, err = plan.Make(at.Design, shop)
			}
			return err
		})
		if err != nil {
			s.log.Warn("copy", "project", h.ID, "err", err)
			found.Unplan(h.ID)
		} else {
			found.Planned++
		}
		select {
		case <-end:
			return errStopped
		case <-time.After(rest(time.Since(began))):
			return nil
		}
	})
	if err := errors.Join(err, from.Close()); err != nil && !errors.Is(err, errStopped) {
		return err
	}
	return c.Note(found)
}

var errStopped = errors.New("stopped")

// copiesPage is what there is of copies.
type copiesPage struct {
	Title   string
	Good    string // when the last good one was, "" for never
	Of      string // what is in it
	Read    string // when the last was that could be read whole, where none is better
	Not     string // and what is not good about it
	Trouble string // why the last try came to nothing
	Going   bool
	Copies  []copyLine
	File    string // its name alone
	Packed  string // what packing old versions comes to
	Saved   string // what was just asked for came to this
}

type copyLine struct {
	Name, Made, Size, Found string
	Good                    bool
}

func (s *Server) copies(c *gin.Context) { s.showCopies(c, http.StatusOK, "") }

func (s *Server) showCopies(c *gin.Context, status int, said string) {
	list, err := store.Copies(s.store.Path())
	if err != nil {
		s.trouble(c, err)
		return
	}
	speech := speechOf(c)
	page := copiesPage{Title: "Copies", File: filepath.Base(s.store.Path()), Saved: said}
	if p, err := s.store.Packed(asked(c), visitorOf(c).Household); err != nil {
		s.trouble(c, err)
		return
	} else if p.Old > 0 {
		page.Packed = fmt.Sprintf("%d old versions of your projects are packed: they take %s in place of %s.", p.Old,
			bytesOf(p.Takes), bytesOf(p.Size))
	}
	for _, one := range list {
		one.Look()
		line := copyLine{Name: filepath.Base(one.Path), Made: speech.Moment(one.Made), Size: bytesOf(one.Size),
			Found: foundIn(one.Looked), Good: one.Good()}
		if line.Good && page.Good == "" {
			page.Good, page.Of = line.Made, measure.Count(one.Projects, "project")
		}
		if !line.Good && page.Read == "" && one.At != "" && one.Damaged == 0 {
			page.Read, page.Not = line.Made, line.Found
		}
		page.Copies = append(page.Copies, line)
	}
	s.copying.mu.Lock()
	page.Going = s.copying.going
	if s.copying.trouble != "" {
		page.Trouble = fmt.Sprintf("On %s no copy could be made: %s.", speech.Moment(s.copying.at), s.copying.trouble)
	}
	s.copying.mu.Unlock()
	s.show(c, status, "copies.html", page)
}

// foundIn says what looking through a copy found.
func foundIn(l store.Looked) string {
	switch {
	case l.At == "":
		return "nobody has looked through it"
	case l.Damaged > 0:
		return fmt.Sprintf("%s of %d cannot be read; the pages of those projects have the way back",
			measure.Count(l.Damaged, "project"), l.Projects)
	case l.Short > 0:
		return fmt.Sprintf("all %d can be read; %d cannot be planned, among them number %d", l.Projects, l.Short,
			l.Unplanned[0])
	case l.Planned < l.Projects:
		return fmt.Sprintf("all %d can be read; %d of them have been planned", l.Projects, l.Planned)
	}
	return fmt.Sprintf("all %d read and planned", l.Projects)
}

// bytesOf writes a size.
func bytesOf(n int64) string {
	switch {
	case n < 1<<20:
		return fmt.Sprintf("%d kB", (n+1023)/1024)
	case n < 1<<30:
		return fmt.Sprintf("%.1f MB", float64(n)/(1<<20))
	}
	return fmt.Sprintf("%.1f GB", float64(n)/(1<<30))
}

// makeCopy makes one now; the page says how far it is.
func (s *Server) makeCopy(c *gin.Context) {
	s.copying.mu.Lock()
	soon := time.Since(s.copying.last) < againAfter
	if !soon {
		s.copying.last = time.Now()
	}
	s.copying.mu.Unlock()
	if soon {
		s.showCopies(c, http.StatusTooManyRequests, "One was asked for less than a minute ago: ask again in a minute.")
		return
	}
	if s.copying.begin() {
		end := s.copying.ended()
		made, err := s.store.CopyNow()
		if err != nil {
			s.copying.settle(err)
			s.log.Error("copy", "err", err)
			s.showCopies(c, http.StatusOK, "")
			return
		}
		s.copying.done.Go(func() {
			s.copying.settle(s.lookThrough(&made, end, func(took time.Duration) time.Duration { return took }))
		})
	}
	c.Redirect(http.StatusSeeOther, "/copies")
}

// everything is all of a household as one file of open formats. It is whole before the first of it is sent: who takes
// it
// slowly holds nothing up.
func (s *Server) everything(c *gin.Context) {
	f, err := os.CreateTemp(filepath.Dir(s.store.Path()), ".chamfer-everything-*") // there is room, and it may be written
	if err != nil {
		s.trouble(c, err)
		return
	}
	defer func() { _ = errors.Join(f.Close(), os.Remove(f.Name())) }()
	if err := s.store.Archive(c.Request.Context(), f, visitorOf(c).Household); err != nil {
		s.trouble(c, err)
		return
	}
	c.Header("Content-Type", "application/zip")
	c.Header("Content-Disposition", fmt.Sprintf("attachment; filename=%q", "chamfer-"+time.Now().Format(time.DateOnly)+
		".zip"))
	http.ServeContent(c.Writer, c.Request, "", time.Time{}, f)
}
