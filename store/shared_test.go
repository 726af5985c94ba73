package store

import (
	"context"
	"encoding/json"
	"errors"
	"log/slog"
	"path/filepath"
	"testing"

	"chamfer/core/catalog"
	"chamfer/core/design"
)

// bare is a log that nothing is asked of.
type bare struct{ Log }

func (bare) Get(context.Context, string) ([]byte, error) { return nil, nil }
func (bare) Node() int64                                 { return 1 }

// viewOf makes a store take others' changes, by hand.
func viewOf(t testing.TB, s *Store) *shared {
	k := &shared{s: s, log: bare{}, report: slog.New(slog.DiscardHandler), moved: make(chan struct{}),
		issued: map[string]int64{}, names: map[string]bool{}, tell: func(Heard) {}}
	k.ctx, k.stop = context.WithCancel(context.Background())
	var err error
	if k.tables, err = tablesOf(s.db); err != nil {
		t.Fatal(err)
	}
	if k.schema, err = newest(); err != nil {
		t.Fatal(err)
	}
	if k.take, err = s.db.Connx(k.ctx); err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { _ = k.close() })
	return k
}

// FuzzTaken gives a view whatever could come from a log, after a change that makes sense and before another. It is
// taken, or refused with a reason; where it is refused, nothing of it and of what came with it is in the file; and
// the file can be read on.
func FuzzTaken(f *testing.F) {
	f.Add(`{"v":14,"rows":[{"t":"projects","put":{"id":7,"household_id":1,"created_at":"a","updated_at":"b"}}]}`,
		"h.1.p.7")
	f.Add(`{"v":14,"rows":[{"t":"projects","set":{"head":2},"key":{"id":1}},{"t":"pins","gone":true,"key":{"id":1}}]}`,
		"h.1.p.1")
	f.Add(`{"v":14,"rows":[{"t":"photos","put":{"id":1,"project_id":1,"body":{"file":"nowhere"}}}]}`, "h.1.p.1")
	f.Add(`{"v":14,"rows":[{"t":"accounts","put":{"id":1,"name":{"text64":"/w=="},"handle":{"base64":"AA=="}}}]}`, "a.1")
	f.Add(`{"v":99,"rows":[]}`, "people")
	f.Add(`{"v":14,"rows":[{"t":"sqlite_master","gone":true,"key":{"name":"projects"}}]}`, "")
	f.Add(`{"v":14,"rows":[{"t":"revisions","gone":true}]}`, "h.1.p.1")
	f.Add(`{"v":14,"rows":[{"t":"shed","set":{"quantity":1e300,"note":null},"key":{"id":"x"}}]}`, "h.1")
	s, err := Open(filepath.Join(f.TempDir(), "beds.db"))
	if err != nil {
		f.Fatal(err)
	}
	f.Cleanup(func() { _ = s.Close() })
	if _, err := s.Create(Home, design.New(catalog.Regions()[0], "kept"), "begun", Kept{}); err != nil {
		f.Fatal(err)
	}
	k := viewOf(f, s)
	seq := uint64(0)
	f.Fuzz(func(t *testing.T, text, subject string) {
		var said loggedPiece
		body := []byte(text) // what is no JSON comes as it is
		if json.Unmarshal([]byte(text), &said) == nil {
			var err error
			if body, err = packPiece(&said); err != nil {
				t.Fatal(err)
			}
		}
		fine, err := packPiece(&loggedPiece{Schema: k.schema, Rows: []loggedRow{{Table: "habits", Put: map[string]json.
			RawMessage{"household_id": json.RawMessage("1"), "region": json.RawMessage(`"of its own"`),
			"body": json.RawMessage(`"x"`)}}}})
		if err != nil {
			t.Fatal(err)
		}
		before := s.Rows(t.Context())
		if len(before) > 200_000 { // what has come so far
			if err := k.clear(t.Context()); err != nil {
				t.Fatal(err)
			}
			before = s.Rows(t.Context())
		}
		seq += 2
		err = k.apply([]Logged{{Subject: "h.1", Seq: seq - 1, Body: fine}, {Subject: subject, Seq: seq, Body: body}})
		after := s.Rows(t.Context())
		if err != nil && before != after {
			t.Errorf("it was refused, and something of it is there: %v", err)
		}
		if err != nil && !errors.Is(err, errNoSense) {
			t.Errorf("it would be asked for again without end: %v", err)
		}
		if err == nil && k.at != seq {
			t.Errorf("it was taken up to %d, and the view is at %d", seq, k.at)
		}
		if list, err := s.List(t.Context(), Scope{Household: Home}, After{}, "", 100); err != nil {
			t.Error(err)
		} else {
			for _, l := range list {
				var damaged *Damaged
				if _, err := l.Read(); err != nil && !errors.As(err, &damaged) {
					t.Error(err)
				}
			}
		}
	})
}
