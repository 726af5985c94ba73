package store

import (
	"errors"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/people"
)

// linked makes a link and finds it by what it is opened by.
func linked(t *testing.T, s *Store, l Link) Link {
	t.Helper()
	secret, err := s.MakeLink(l, time.Hour)
	must(t, err)
	l, err = s.Link(t.Context(), secret)
	must(t, err)
	return l
}

// A link opens once where it is to, not after its time, and not once it was taken back; of what opens it nothing is in
// the file.
func TestLinks(t *testing.T) {
	path := filepath.Join(t.TempDir(), "beds.db")
	s := opened(t, path)
	now := time.Now()
	s.now = func() time.Time { return now }
	secret, err := s.MakeLink(Link{Kind: First, Once: true}, time.Hour)
	must(t, err)
	again, err := s.MakeLink(Link{Kind: First, Once: true}, time.Hour)
	must(t, err)
	if _, err := s.Link(t.Context(), secret); !errors.Is(err, ErrNoLink) {
		t.Errorf("two links to the first account hold: %v", err)
	}
	l, err := s.Link(t.Context(), again)
	must(t, err)
	ada, err := s.Join(l, 0, "Ada", "hash")
	must(t, err)
	if _, err := s.Join(l, 0, "Eve", "hash"); !errors.Is(err, ErrNoLink) {
		t.Errorf("it works twice: %v", err)
	}
	if late := linkOf(t, s, First); late != nil {
		if _, err := s.Join(*late, 0, "Eve", "hash"); !errors.Is(err, ErrNoLink) {
			t.Errorf("a second first account: %v", err)
		}
	}
	house := Home
	invite := linked(t, s, Link{Kind: Invite, Household: &house, By: &ada, Role: people.Helper, Once: true})
	if _, err := s.Join(invite, 0, "ada", "hash"); !errors.Is(err, ErrNameTaken) {
		t.Errorf("a name is taken twice, in other letters: %v", err)
	}
	ben, err := s.Join(invite, 0, "Ben", "hash") // the slip used nothing up
	must(t, err)
	own := linked(t, s, Link{Kind: Invite, Household: &house, By: &ada, Role: people.Reader, Once: true})
	_, err = s.Join(own, ada, "", "")
	must(t, err)
	if of, _, err := s.RoleIn(t.Context(), Home, 0, ada); err != nil || of != people.Owner {
		t.Errorf("an owner who took a reader's link is %s, %v", of, err)
	}
	if of, _, _ := s.RoleIn(t.Context(), Home, 0, ben); of != people.Helper {
		t.Errorf("a helper is %s", of)
	}
	id, err := s.Create(Home, design.New(catalog.Regions()[0], "a bed"), "started", Kept{})
	must(t, err)
	share := linked(t, s, Link{Kind: Share, Project: &id, By: &ada, Role: people.Reader})
	must(t, s.OpenLink(share))
	must(t, s.OpenLink(share))
	if list, err := s.Links(t.Context(), 0, id); err != nil || len(list) != 1 || list[0].Opened != 2 {
		t.Errorf("%v %v", list, err)
	}
	must(t, s.EndLink(share.ID, 0, id+1)) // of another project: not its to end
	if _, err := s.LinkOf(t.Context(), share.ID); err != nil {
		t.Errorf("another project ended it: %v", err)
	}
	must(t, s.EndLink(share.ID, 0, id))
	if _, err := s.LinkOf(t.Context(), share.ID); !errors.Is(err, ErrNoLink) || !errors.Is(s.OpenLink(share), ErrNoLink) {
		t.Errorf("it opens after it was taken back: %v", err)
	}
	late := linked(t, s, Link{Kind: Share, Project: &id, By: &ada, Role: people.Reader})
	now = now.Add(time.Hour)
	if _, err := s.LinkOf(t.Context(), late.ID); !errors.Is(err, ErrNoLink) || !errors.Is(s.OpenLink(late), ErrNoLink) {
		t.Errorf("it opens after its time: %v", err)
	}
	s.checkpoint()
	raw, err := os.ReadFile(path)
	must(t, err)
	if strings.Contains(string(raw), secret) || strings.Contains(string(raw), again) {
		t.Error("what opens a link is in the file")
	}
}

func linkOf(t *testing.T, s *Store, kind Kind) *Link {
	t.Helper()
	l := linked(t, s, Link{Kind: kind, Once: true})
	return &l
}

// Households do not see each other's projects, shed and habits; roles are of one household; its last owner stays.
func TestHouseholds(t *testing.T) {
	s := opened(t, filepath.Join(t.TempDir(), "beds.db"))
	ada, err := s.Join(*linkOf(t, s, First), 0, "Ada", "hash")
	must(t, err)
	house := Home
	ben, err := s.Join(linked(t, s, Link{Kind: Invite, Household: &house, Role: people.Helper, Once: true}), 0, "Ben", "h")
	must(t, err)
	other, err := s.FoundHousehold("The other lane", ben)
	must(t, err)
	cat := catalog.Regions()[0]
	mine, err := s.Create(Home, design.New(cat, "mine"), "started", Kept{})
	must(t, err)
	theirs, err := s.Create(other, design.New(cat, "theirs"), "started", Kept{})
	must(t, err)
	board := catalog.Leftover{Profile: "2x6", Species: "cedar", Length: 41e7, Quantity: 2}
	must(t, s.Stow(Home, "us", board))
	must(t, s.Stow(other, "us", board, board))
	shed, err := s.Shed(t.Context(), Home, "us")
	must(t, err)
	must(t, s.TakeOut(other, shed[0].ID, 2))
	if shed, _ = s.Shed(t.Context(), Home, "us"); len(shed) != 1 || shed[0].Quantity != 2 {
		t.Errorf("another household took from the shed, or put into it: %v", shed)
	}
	h := cat.Habits
	h.TaxBasisPoints = 725
	must(t, s.SetHabits(other, "us", h))
	if got, _ := s.Habits(t.Context(), Home, cat); got.TaxBasisPoints == 725 {
		t.Error("another household's habits are used")
	}
	for scope, want := range map[Scope]int64{{Household: Home}: mine, {Household: other}: theirs} {
		if list, err := s.List(t.Context(), scope, After{}, "", 10); err != nil || len(list) != 1 || list[0].ID != want {
			t.Errorf("%v lists %v, %v", scope, list, err)
		}
	}
	if list, _ := s.List(t.Context(), Scope{Household: Home, Named: ben}, After{}, "", 10); len(list) != 0 {
		t.Error("a guest sees what does not name them")
	}
	if err := s.SetProjectRole(theirs, ada, people.Reader); !errors.Is(err, ErrNobody) {
		t.Errorf("a project names somebody who is not of its household: %v", err)
	}
	must(t, s.SetProjectRole(mine, ben, people.Reader))
	if list, _ := s.List(t.Context(), Scope{Household: Home, Named: ben}, After{}, "", 10); len(list) != 1 {
		t.Error("a guest does not see what names them")
	}
	if err := s.SetRole(Home, ada, people.Helper); !errors.Is(err, ErrLastOwner) {
		t.Errorf("a household is left without an owner: %v", err)
	}
	if err := s.DeleteAccount(ada); !errors.Is(err, ErrLastOwner) {
		t.Errorf("a household is left without an owner: %v", err)
	}
	must(t, s.SetRole(Home, ben, ""))
	if of, in, _ := s.RoleIn(t.Context(), Home, mine, ben); of != "" || in != "" {
		t.Errorf("who was taken out is %q, %q still", of, in)
	}
	must(t, s.DeleteAccount(ben)) // the only one of the other household
	if list, _ := s.List(t.Context(), Scope{Household: other}, After{}, "", 10); len(list) != 0 {
		t.Error("a household nobody is in is kept")
	}
	if left, _ := s.Shed(t.Context(), other, "us"); len(left) != 0 {
		t.Error("its shed is kept")
	}
}

// What is deleted can be had back for thirty days, and then is gone: rows, claims and the bytes in the file. On request
// it is gone at once.
func TestDeletion(t *testing.T) {
	path := filepath.Join(t.TempDir(), "beds.db")
	s := opened(t, path)
	now := time.Now()
	s.now = func() time.Time { return now }
	ada, err := s.Join(*linkOf(t, s, First), 0, "Ada Quillfeather", "hash")
	must(t, err)
	const name = "A name that is nowhere else 7731"
	d := design.New(catalog.Regions()[0], name)
	id, err := s.Create(Home, d, "started", Kept{Card: []byte("{}"), Edit: Edit{By: ada}})
	must(t, err)
	for i := range 5 {
		h, err := s.Standing(t.Context(), id)
		must(t, err)
		d.Beds[0].Soil += 25_400_000
		must(t, s.Save(id, h.Head, d, "deeper", Kept{Edit: Edit{By: ada, Edits: []design.Edit{{Bed: "b1", Field: "soil"}}}}))
		must(t, s.Tick(id, Tick{Key: string(rune(97 + i)), Done: true}))
	}
	h, _ := s.Standing(t.Context(), id)
	must(t, s.Undo(id, h.Head)) // a branch
	must(t, s.Delete(id))
	now = now.Add(Reprieve - time.Minute)
	must(t, s.Sweep())
	must(t, s.Restore(id))
	if list, err := s.History(t.Context(), id, 10); err != nil || len(list) != 6 {
		t.Fatalf("it did not come back whole: %v %v", list, err)
	}
	if ticks, _ := s.Ticks(t.Context(), id); len(ticks) != 5 {
		t.Error("its ticks did not come back")
	}
	must(t, s.Delete(id))
	now = now.Add(Reprieve + time.Minute)
	must(t, s.Sweep())
	if _, err := s.Standing(t.Context(), id); !errors.Is(err, ErrNotFound) {
		t.Errorf("it is there after thirty days: %v", err)
	}
	again, err := s.Create(Home, design.New(catalog.Regions()[0], name), "started", Kept{Card: []byte("{}")})
	must(t, err)
	must(t, s.Purge(again))
	must(t, s.Happened(ada, "a wrong password from 198.51.100.77"))
	_, err = s.SignIn(ada, 0, "Firefox on Linux")
	must(t, err)
	must(t, s.DeleteAccount(ada))
	must(t, s.SetHabits(Home, "us", catalog.Regions()[0].Habits)) // the file's household is there for whoever comes next
	for table, query := range map[string]string{"revisions": "SELECT count(*) FROM revisions",
		"ticks": "SELECT count(*) FROM ticks", "cards": "SELECT count(*) FROM cards",
		"happenings": "SELECT count(*) FROM happenings", "signins": "SELECT count(*) FROM signins",
		"members": "SELECT count(*) FROM members"} {
		var n int
		must(t, s.db.Get(&n, query))
		if n != 0 {
			t.Errorf("%s has %d rows", table, n)
		}
	}
	s.checkpoint()
	raw, err := os.ReadFile(path)
	must(t, err)
	for _, trace := range []string{name, "Quillfeather", "198.51.100.77", "Firefox on Linux"} {
		if strings.Contains(string(raw), trace) {
			t.Errorf("%q is in the file", trace)
		}
	}
}

// Whose edit a revision was is told along the chain to the head, and taken from it with the account.
func TestChain(t *testing.T) {
	s := opened(t, filepath.Join(t.TempDir(), "beds.db"))
	ada, err := s.Join(*linkOf(t, s, First), 0, "Ada", "hash")
	must(t, err)
	house := Home
	ben, err := s.Join(linked(t, s, Link{Kind: Invite, Household: &house, Role: people.Owner, Once: true}), 0, "Ben", "h")
	must(t, err)
	d := design.New(catalog.Regions()[0], "a bed")
	id, err := s.Create(Home, d, "started", Kept{Edit: Edit{By: ada}})
	must(t, err)
	for _, by := range []int64{ada, ben, ada} {
		h, err := s.Standing(t.Context(), id)
		must(t, err)
		d.Beds[0].Soil += 25_400_000
		edits := []design.Edit{{Bed: "b1", Field: "soil", Value: d.Beds[0].Soil.String()}}
		must(t, s.Save(id, h.Head, d, "deeper", Kept{Edit: Edit{By: by, Edits: edits}}))
	}
	names := func() string {
		list, err := s.Chain(t.Context(), id, 10)
		must(t, err)
		var names []string
		for _, r := range list {
			names = append(names, r.Name)
		}
		return strings.Join(names, " ")
	}
	if got := names(); got != "Ada Ben Ada Ada" {
		t.Errorf("the chain is %q", got)
	}
	h, _ := s.Standing(t.Context(), id)
	must(t, s.Undo(id, h.Head))
	if next, some, err := s.RedoTo(t.Context(), id); err != nil || !some || next.ID != h.Head || len(next.Edits()) != 1 {
		t.Errorf("redo goes to %v, %v", next, err)
	}
	must(t, s.DeleteAccount(ben))
	if got := names(); got != " Ada Ada" {
		t.Errorf("with Ben gone the chain is %q", got)
	}
}

// A copy says until when it is to be kept, and once brought back is none; those made beside a file by themselves go
// when their time is up, and nothing else does.
func TestCopiesEnd(t *testing.T) {
	dir := t.TempDir()
	path, to := filepath.Join(dir, "beds.db"), filepath.Join(dir, "copy.db")
	made(t, path, 2)
	c, err := Backup(path, to)
	must(t, err)
	if want := time.Now().Add(CopyLasts).UTC().Format(time.DateOnly); c.Until != want {
		t.Errorf("it is to be kept until %q, want %q", c.Until, want)
	}
	_, _, err = Restore(to, path, true)
	must(t, err)
	if c, err := Check(path); err != nil || c.Until != "" {
		t.Errorf("what was brought back is a copy until %q: %v", c.Until, err)
	}
	old, young := "20200102T030405", time.Now().UTC().Format("20060102T150405")
	gone := []string{path + ".v3-" + old, path + ".before-" + old + ".000", path + ".before-" + old + ".000-wal"}
	stay := []string{path + ".v3-" + young, path + ".before-letter", path + ".v-notes", filepath.Join(dir,
		"other.db.v3-"+old)}
	for _, name := range append(gone, stay...) {
		must(t, os.WriteFile(name, []byte("x"), 0o600))
	}
	must(t, opened(t, path).Ready())
	for _, name := range gone {
		if _, err := os.Stat(name); err == nil {
			t.Errorf("%s is there still", name)
		}
	}
	for _, name := range stay {
		if _, err := os.Stat(name); err != nil {
			t.Errorf("%s is gone", name)
		}
	}
}
