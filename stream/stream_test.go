package stream_test

import (
	"bytes"
	"compress/flate"
	"context"
	"errors"
	"fmt"
	"io"
	"log/slog"
	"math/rand/v2"
	"net"
	"os"
	"path/filepath"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/measure"
	"chamfer/long"
	"chamfer/store"
	"chamfer/stream"
)

var quiet = slog.New(slog.NewTextHandler(io.Discard, nil))

// free is an address on this machine that nobody listens at.
func free(t testing.TB) string {
	t.Helper()
	ln, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	defer ln.Close()
	return ln.Addr().String()
}

// alone is a log on one machine.
func alone(t *testing.T) string {
	t.Helper()
	addr := free(t)
	stop, err := stream.Start(stream.Node{Name: "n1", Data: t.TempDir(), Addr: addr, Secret: "a secret", Log: quiet})
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(stop)
	return addr
}

// view is a file that is a view of a log.
func view(t *testing.T, addr, path string) (*store.Store, *stream.Log) {
	t.Helper()
	s, err := store.Open(path)
	if err != nil {
		t.Fatal(err)
	}
	l := join(t, addr)
	if err := s.Share(t.Context(), l, slog.Default()); err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { _ = s.Close() })
	return s, l
}

func join(t *testing.T, addr string) *stream.Log {
	t.Helper()
	l, err := stream.Join(t.Context(), stream.Ask{Addresses: []string{addr}, Secret: "a secret", Copies: 1, Log: quiet})
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(l.Close)
	return l
}

func bed(t testing.TB, name string) design.Design {
	t.Helper()
	return design.New(catalog.Regions()[0], name)
}

// flated is a piece as it stands in the log.
func flated(text string) ([]byte, error) {
	var out bytes.Buffer
	w, err := flate.NewWriter(&out, flate.DefaultCompression)
	if err == nil {
		_, err = w.Write([]byte(text))
	}
	if err == nil {
		err = w.Close()
	}
	return out.Bytes(), err
}

// same waits until two views have all there is, and compares every row that is shared.
func same(t *testing.T, a, b *store.Store) {
	t.Helper()
	ctx, cancel := context.WithTimeout(t.Context(), 20*time.Second)
	defer cancel()
	most := max(a.Known(), b.Known())
	if err := errors.Join(a.Await(ctx, most), b.Await(ctx, most)); err != nil {
		t.Fatal(err)
	}
	one, other := a.Rows(t.Context()), b.Rows(t.Context())
	if one != other {
		t.Errorf("two views of one log differ:\n%s\n%s", one, other)
	}
}

func TestTwoViews(t *testing.T) {
	addr := alone(t)
	a, _ := view(t, addr, filepath.Join(t.TempDir(), "a.db"))
	b, _ := view(t, addr, filepath.Join(t.TempDir(), "b.db"))
	var heard atomic.Int64
	b.OnHeard(func(h store.Heard) {
		for project := range h.Projects {
			heard.Store(project)
		}
	})
	id, err := a.Create(store.Home, bed(t, "One"), "begun", store.Kept{})
	if err != nil {
		t.Fatal(err)
	}
	if err := b.Await(t.Context(), a.Known()); err != nil {
		t.Fatal(err)
	}
	p, err := b.Project(t.Context(), id)
	if err != nil {
		t.Fatal(err)
	}
	if heard.Load() != id {
		t.Errorf("of project %d nothing was heard", id)
	}
	for i := range 20 {
		s := []*store.Store{a, b}[i%2]
		if err := s.Save(id, p.Head, bed(t, fmt.Sprint("One ", i)), "renamed", store.Kept{}); err != nil {
			t.Fatal(i, err)
		}
		if err := b.Await(t.Context(), s.Known()); err != nil {
			t.Fatal(err)
		}
		if p, err = b.Project(t.Context(), id); err != nil {
			t.Fatal(err)
		}
	}
	same(t, a, b)
}

// deaf is a log whose answers are lost: it does what it is asked, or not, and says nothing of it.
type deaf struct {
	*stream.Log
	r *rand.Rand
}

func (d deaf) Append(ctx context.Context, name string, pieces []store.Piece) (uint64, error) {
	switch d.r.IntN(4) {
	case 0: // it did not arrive
		return 0, errors.New("nobody answers")
	case 1: // the answer did not
		_, _ = d.Log.Append(ctx, name, pieces)
		return 0, errors.New("nobody answers")
	}
	return d.Log.Append(ctx, name, pieces)
}

// Whatever is done at several views of one log, at once and by random, with a third of the log's answers lost: each
// view comes to have the same rows; what was acknowledged is there, once; nothing is overwritten unseen. A view that
// comes anew, from the log or from a copy, has them too.
func TestViewsOfOneLog(t *testing.T) {
	addr := alone(t)
	const views, workers = 3, 3
	var list []*store.Store
	r := rand.New(rand.NewPCG(25, 1))
	for i := range views {
		s, err := store.Open(filepath.Join(t.TempDir(), "beds.db"))
		if err != nil {
			t.Fatal(err)
		}
		l := join(t, addr)
		if err := s.Share(t.Context(), deaf{l, rand.New(rand.NewPCG(25, uint64(i)))}, quiet); err != nil {
			t.Fatal(err)
		}
		t.Cleanup(func() { _ = s.Close() })
		list = append(list, s)
	}
	board := catalog.Leftover{Profile: "2x8", Species: "cedar", Length: 8 * 12 * measure.Inch, Quantity: 1}
	id, err := list[0].Create(store.Home, bed(t, "shared"), "begun", store.Kept{})
	if err != nil {
		t.Fatal(err)
	}
	acts := long.Of(120)
	var mu sync.Mutex
	var made []int64 // by all
	var stowed, saved, conflicts atomic.Int64
	var wait sync.WaitGroup
	for i := range views * workers {
		s, seed := list[i%views], r.Uint64()
		wait.Go(func() {
			r := rand.New(rand.NewPCG(seed, 2))
			mine := int64(0)
			for n := range acts {
				var err error
				switch r.IntN(7) {
				case 0: // counted together with those that are alike: one too many or too few shows
					if err = s.Stow(store.Home, "us", board); err == nil {
						stowed.Add(1)
					}
				case 1: // what all want to change: whoever saw an older one is told
					p, bad := s.Project(t.Context(), id)
					if err = bad; err == nil {
						err = s.Save(id, p.Head, bed(t, fmt.Sprintf("shared %d %d", i, n)), "by one of many", store.Kept{})
					}
					var moved *store.Conflict
					switch {
					case err == nil:
						saved.Add(1)
					case errors.As(err, &moved):
						conflicts.Add(1)
						err = nil
					}
				case 2:
					if mine, err = s.Create(store.Home, bed(t, fmt.Sprintf("of %d, %d", i, n)), "begun", store.Kept{}); err != nil {
						mine = 0
					}
					mu.Lock()
					made = append(made, mine)
					mu.Unlock()
				case 3:
					if mine != 0 {
						err = s.Tick(mine, store.Tick{Key: fmt.Sprint("step ", r.IntN(9)), Done: r.IntN(3) > 0})
					}
				case 4:
					if mine != 0 { // of two subjects at once
						var done bool
						if done, err = s.PutAway(mine, "us", nil, []catalog.Leftover{board}); err == nil && done {
							stowed.Add(1)
						}
					}
				case 5, 6:
					if mine != 0 && r.IntN(2) == 0 {
						err = s.Purge(mine)
						mine = 0
					}
				}
				if n > 0 && r.IntN(3) == 0 { // a way in to what another may be deleting: it goes with that
					mu.Lock()
					any := append(made, id)[r.IntN(len(made)+1)]
					mu.Unlock()
					if _, there := s.Standing(t.Context(), any); there == nil {
						_, gone := s.MakeLink(store.Link{Kind: store.Share, Project: &any, Role: "look"}, time.Hour)
						if _, there = s.Standing(t.Context(), any); gone != nil && there == nil {
							t.Errorf("no link to project %d, which is there: %v", any, gone)
						}
					}
				}
				if err != nil {
					t.Errorf("worker %d, act %d: %v", i, n, err)
					return
				}
			}
		})
	}
	wait.Wait()
	for _, s := range list[1:] {
		same(t, list[0], s)
	}
	shed, err := list[1].Shed(t.Context(), store.Home, "us")
	if err != nil || len(shed) != 1 || int64(shed[0].Quantity) != stowed.Load() {
		t.Errorf("%d boards were stowed, and there are %v (%v)", stowed.Load(), shed, err)
	}
	chain, err := list[2].Chain(t.Context(), id, 100_000)
	if err != nil || int64(len(chain)) != saved.Load()+1 {
		t.Errorf("%d changes of one project were acknowledged, and there are %d on the way to its head (%v)", saved.Load(),
			len(chain)-1, err)
	}
	t.Logf("%d boards, %d changes of one project kept and %d refused; the log is at %d", stowed.Load(), saved.Load(),
		conflicts.Load(), list[0].Known())

	late, _ := view(t, addr, filepath.Join(t.TempDir(), "late.db"))
	same(t, list[0], late)
	for range 3 { // the log is cut up to the last copy but one
		c, err := list[0].CopyNow()
		if err != nil {
			t.Fatal(err)
		}
		if err := errors.Join(list[0].PutCopy(t.Context(), c.Path), list[0].Stow(store.Home, "us", board),
			os.Remove(c.Path)); err != nil {
			t.Fatal(err)
		}
	}
	if c, err := list[1].CopyNow(); err != nil || len(c.Unplanned) > 0 || c.Damaged > 0 { // looked through
		t.Errorf("%+v: %v", c, err)
	}
	later, l := view(t, addr, filepath.Join(t.TempDir(), "later.db"))
	same(t, list[0], later)
	if first, _, err := l.Last(t.Context()); err != nil || first < 10 {
		t.Errorf("the log was not cut: it begins at %d (%v)", first, err)
	}
	p, err := later.Project(t.Context(), id) // a subject that the log has nothing of any more goes on
	if err != nil {
		t.Fatal(err)
	}
	if err := later.Save(id, p.Head, bed(t, "after the cut"), "once more", store.Kept{}); err != nil {
		t.Fatal(err)
	}
	same(t, list[0], later)
}

// What is large goes beside the log, and goes with what it belongs to; so does the past of what is deleted for good.
func TestForgotten(t *testing.T) {
	addr := alone(t)
	a, l := view(t, addr, filepath.Join(t.TempDir(), "a.db"))
	b, _ := view(t, addr, filepath.Join(t.TempDir(), "b.db"))
	id, err := a.Create(store.Home, bed(t, "Pears of a secret kind"), "begun", store.Kept{})
	if err != nil {
		t.Fatal(err)
	}
	large := bytes.Repeat([]byte("a picture "), 30_000)
	if err := a.AddPhotos(id, store.Photo{Caption: "large", Body: large}, store.Photo{Caption: "small",
		Body: []byte("x")}); err != nil {
		t.Fatal(err)
	}
	same(t, a, b)
	photos, err := b.Photos(t.Context(), id, true)
	if err != nil || len(photos) != 2 || !bytes.Equal(photos[0].Body, large) {
		t.Fatalf("%d photos came (%v)", len(photos), err)
	}
	if things := l.Things(t.Context()); len(things) != 1 {
		t.Errorf("beside the log are %v", things)
	}
	keep, err := b.Create(store.Home, bed(t, "Kept"), "begun", store.Kept{})
	if err != nil {
		t.Fatal(err)
	}
	if err := b.Purge(id); err != nil {
		t.Fatal(err)
	}
	same(t, a, b)
	for range 100 {
		if len(l.Things(t.Context())) == 0 && !l.Says(t.Context(), "Pears") {
			break
		}
		time.Sleep(50 * time.Millisecond)
	}
	if things := l.Things(t.Context()); len(things) > 0 {
		t.Errorf("beside the log is still %v", things)
	}
	if l.Says(t.Context(), "Pears") || !l.Says(t.Context(), "Kept") {
		t.Error("the log has the past of a project that was deleted for good, or not that of another")
	}
	fresh, _ := view(t, addr, filepath.Join(t.TempDir(), "fresh.db"))
	same(t, a, fresh)
	if _, err := fresh.Project(t.Context(), keep); err != nil {
		t.Error(err)
	}
	// An account that leaves takes a household of its own with it, and what the log said of both.
	link := store.Link{Kind: store.First, Once: true}
	secret, err := a.MakeLink(link, time.Hour)
	if err == nil {
		link, err = a.Link(t.Context(), secret)
	}
	if err != nil {
		t.Fatal(err)
	}
	ada, err := a.Join(link, 0, "Ada Quince", "a hash")
	if err != nil {
		t.Fatal(err)
	}
	same(t, a, b)
	mine, err := b.FoundHousehold("Quinces only", ada)
	if err != nil {
		t.Fatal(err)
	}
	if _, err := b.Create(mine, bed(t, "Quinces in rows"), "begun", store.Kept{Edit: store.Edit{By: ada}}); err != nil {
		t.Fatal(err)
	}
	same(t, a, b)
	if err := a.DeleteAccount(ada); err != nil {
		t.Fatal(err)
	}
	same(t, a, b)
	for range 100 {
		if !l.Says(t.Context(), "Quince") {
			break
		}
		time.Sleep(50 * time.Millisecond)
	}
	if l.Says(t.Context(), "Quince") {
		t.Error("the log says what an account was called that is deleted, or has its household")
	}
	same(t, a, fresh)
}

// Whose file it is: one that has projects begins an empty log, none that has others' is taken, and a view is not
// written to by a program that is none.
func TestWhoseFile(t *testing.T) {
	addr := alone(t)
	dir := t.TempDir()
	path, other := filepath.Join(dir, "a.db"), filepath.Join(dir, "other.db")
	for _, p := range []string{path, other} {
		s, err := store.Open(p)
		if err != nil {
			t.Fatal(err)
		}
		if _, err := s.Create(store.Home, bed(t, p), "begun", store.Kept{}); err != nil {
			t.Fatal(err)
		}
		if err := s.Stow(store.Home, "us", catalog.Leftover{Profile: "2x8", Species: "cedar", Length: measure.Foot,
			Quantity: 2}); err != nil {
			t.Fatal(err)
		}
		if err := s.Close(); err != nil {
			t.Fatal(err)
		}
	}
	a, _ := view(t, addr, path)
	b, _ := view(t, addr, filepath.Join(dir, "b.db"))
	same(t, a, b)
	if err := a.Close(); err != nil {
		t.Fatal(err)
	}
	s, err := store.Open(other)
	if err != nil {
		t.Fatal(err)
	}
	if err := s.Share(t.Context(), join(t, addr), quiet); !errors.Is(err, store.ErrApart) {
		t.Errorf("a file with projects of its own was made a view: %v", err)
	}
	if err := s.Close(); err != nil {
		t.Fatal(err)
	}
	if s, err = store.Open(path); err != nil {
		t.Fatal(err)
	}
	if err := s.Delete(1); !errors.Is(err, store.ErrApart) {
		t.Errorf("a view was written to without its log: %v", err)
	}
	if err := s.Close(); err != nil {
		t.Fatal(err)
	}
	a, _ = view(t, addr, path) // and comes back
	if err := b.Delete(1); err != nil {
		t.Fatal(err)
	}
	same(t, a, b)
	_, l := view(t, alone(t), filepath.Join(dir, "of another log.db"))
	// What a newer program has put into the log is taken by none that is older: it says so, and writes nothing.
	news, err := flated(`{"v":99,"rows":[]}`)
	if err != nil {
		t.Fatal(err)
	}
	if _, err := join(t, addr).Append(t.Context(), "news", []store.Piece{{Subject: "people", Body: news}}); err != nil {
		t.Fatal(err)
	}
	for range 100 {
		if err = b.InTouch(); err != nil {
			break
		}
		time.Sleep(20 * time.Millisecond)
	}
	if err == nil || !strings.Contains(err.Error(), "newer Chamfer") {
		t.Errorf("after a piece of a newer program: %v", err)
	}
	if err := b.Restore(1); err == nil {
		t.Error("it was written to all the same")
	}
	if err := a.Close(); err != nil {
		t.Fatal(err)
	}
	if s, err = store.Open(path); err != nil {
		t.Fatal(err)
	}
	defer s.Close()
	if err := s.Share(t.Context(), l, quiet); !errors.Is(err, store.ErrApart) {
		t.Errorf("a view of one log was made one of another: %v", err)
	}
}
