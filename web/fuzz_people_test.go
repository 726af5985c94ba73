package web

import (
	"bytes"
	"context"
	"fmt"
	"hash/fnv"
	"log/slog"
	"net/http"
	"net/http/httptest"
	"net/url"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/jmoiron/sqlx"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/long"
	"chamfer/people"
	"chamfer/store"
)

// crowd is everybody of two households at once, each with a session that was made without a password, so that many
// requests can be sent.
type crowd struct {
	*site
	db       *sqlx.DB
	tokens   map[string]string
	projects []int64
	theirs   int64
	logged   bytes.Buffer
}

// What forms about people and projects have in them: fields that are read somewhere, and what stands in them.
var (
	peopleFields = []string{"name", "password", "again", "now", "role", "who", "note", "link", "signin", "passkey",
		"answer",
		"household", "how", "what", "days", "rev", "bed", "stage", "set", "label", "length", "soil", "price:2x6/cedar/8 ft",
		"have:x", "tick", "done", "code", "take", "leftover", "revision", "copy", "region", "area", "to", "nudge", "keep",
		"beds", "group", "board", "n", "times"}
	peopleTexts = []string{"", "0", "1", "2", "3", "5", "7", "-1", "999999", "owner", "helper", "reader", "guest",
		"out", "as",
		"go", "begin", "rename", "read", "build", "yes", "no", "b1", "b2", "bed", "bill", "build", "length=9 ft",
		"b1>soil=11 in",
		"price:2x6/cedar/8 ft=7", "9'", "12 in", "9.50", "us", "metric", "pear kettle hinge walnut", "buy", "cut",
		"//evil.example/", "/p/1/bed", "5:b1", "1:b1", "ABCD-EFGH", `{"format":"chamfer-ticks-1","done":["buy"]}`, "{}",
		"2x6 cedar 41 in", "length:+", "copy", "add", "\x00", "\xff\xfe", "\u202eada", "<script>alert(1)</script>",
		strings.Repeat("long ", 100)}
)

// notSteady are routes after which somebody may be another, or nobody, so that the table of who may what holds no more.
var notSteady = []string{"/sign-out", "/people/role", "/p/:id/role", "/people/household", "/you/leave", "/you/name",
	"/you/signed-in", "/p/:id/unshare", "/p/:id/delete", "/p/:id/purge", "/p/:id/restore"}

func newCrowd(t testing.TB) *crowd {
	t.Helper()
	c := &crowd{site: newSite(t), tokens: map[string]string{}}
	c.h.log = slog.New(slog.NewTextHandler(&c.logged, nil))
	c.db = sqlx.MustOpen("sqlite", c.path+"?_pragma=busy_timeout(5000)")
	t.Cleanup(func() { c.db.Close() })
	c.db.MustExec(`INSERT INTO households (id, name, created_at) VALUES (2, 'The other lane', '')`)
	id, err := c.store.Create(2, design.New(catalog.Regions()[0], "Theirs alone"), "started", store.Kept{})
	if err != nil {
		t.Fatal(err)
	}
	c.theirs, c.projects = id, []int64{1, 2, id, 4040}
	if err := c.store.Stow(2, "us", catalog.Leftover{Profile: "2x6", Species: "cedar", Length: 41e7,
		Quantity: 2}); err != nil {
		t.Fatal(err)
	}
	return c
}

// reset brings everybody back to what they were.
func (c *crowd) reset() {
	tx := c.db.MustBegin()
	for _, q := range []string{"DELETE FROM accounts", "DELETE FROM links", "DELETE FROM members",
		"DELETE FROM project_roles",
		"DELETE FROM signins", "DELETE FROM sessions", "DELETE FROM households WHERE id > 2",
		"UPDATE households SET name = 'The other lane' WHERE id = 2",
		"UPDATE projects SET deleted_at = NULL WHERE id < 6", "DELETE FROM projects WHERE id > 5"} {
		tx.MustExec(q)
	}
	for i, m := range []struct {
		name      string
		household int
		role      people.Role
	}{{"owner", 1, people.Owner}, {"helper", 1, people.Helper}, {"reader", 1, people.Reader}, {"named", 1, people.Guest},
		{"guest", 1, people.Guest}, {"other", 2, people.Owner}} {
		tx.MustExec("INSERT INTO accounts (id, name, handle, created_at) VALUES (?, ?, ?, '')", i+1, m.name, []byte(m.name))
		tx.MustExec("INSERT INTO members (household_id, account_id, role) VALUES (?, ?, ?)", m.household, i+1, m.role)
		tx.MustExec("INSERT INTO signins (id, account_id, device, created_at, seen_at) VALUES (?, ?, '', '', '')", i+1, i+1)
	}
	tx.MustExec("INSERT INTO project_roles (project_id, account_id, role) VALUES (1, 4, 'helper')")
	tx.MustExec("INSERT INTO signins (id, account_id, project_id, device, created_at, seen_at) VALUES (7, 2, 1, ''," +
		" '', '')")
	for i, role := range []people.Role{people.Reader, people.Helper} {
		tx.MustExec(`INSERT INTO links (id, hash, kind, project_id, made_by, role, once, created_at, expires_at)
			VALUES (?, ?, 'share', 1, 1, ?, 0, '', '9999')`, i+1, []byte{byte(i)}, role)
	}
	tx.MustExec(`INSERT INTO links (id, hash, kind, household_id, made_by, role, once, created_at, expires_at)
		VALUES (3, 'x', 'invite', 2, 6, 'owner', 1, '', '9999')`)
	if err := tx.Commit(); err != nil {
		c.t.Fatal(err)
	}
	for name, hold := range map[string]func(context.Context){
		"owner": c.signed(1), "helper": c.signed(2), "reader": c.signed(3), "named": c.signed(4), "guest": c.signed(5),
		"other": c.signed(6), "phone": c.signed(7), "readlink": c.shared(1), "buildlink": c.shared(2)} {
		m := c.h.plain
		ctx, err := m.Load(context.Background(), "")
		if err != nil {
			c.t.Fatal(err)
		}
		hold(ctx)
		if c.tokens[name], _, err = m.Commit(ctx); err != nil {
			c.t.Fatal(err)
		}
	}
}

func (c *crowd) signed(id int64) func(context.Context) {
	return func(ctx context.Context) { c.h.plain.Put(ctx, keySignin, id) }
}

func (c *crowd) shared(id int64) func(context.Context) {
	return func(ctx context.Context) { c.h.plain.Put(ctx, keyShares, []int64{id}) }
}

// theirsNow is all that the other household has.
func (c *crowd) theirsNow() string {
	var all []string
	for _, q := range []string{"SELECT coalesce(sum(quantity), 0) FROM shed WHERE household_id = 2",
		"SELECT count(*) FROM links WHERE household_id = 2 OR project_id = 5",
		"SELECT count(*) FROM members WHERE household_id = 2",
		"SELECT count(*) FROM projects WHERE household_id = 2 AND deleted_at IS NULL",
		"SELECT coalesce(sum(head), 0) FROM projects WHERE household_id = 2",
		"SELECT count(*) FROM ticks WHERE project_id = 5",
		"SELECT count(*) FROM project_roles WHERE project_id = 5",
		"SELECT count(*) FROM households WHERE id = 2 AND name = 'The other lane'"} {
		var n int
		if err := c.db.Get(&n, q); err != nil {
			c.t.Fatal(err)
		}
		all = append(all, fmt.Sprint(n))
	}
	return strings.Join(all, " ")
}

// FuzzPeople sends what random people send to random ways in, streams among them: nothing goes wrong in the program,
// who may not is turned away with nothing written, the other household has what it had, and an owner is left.
func FuzzPeople(f *testing.F) {
	c := newCrowd(f)
	ways := slices.DeleteFunc(c.h.ways(), func(w route) bool { return w.path == "/static/*path" })
	names := []string{"owner", "helper", "reader", "named", "guest", "other", "nobody", "readlink", "buildlink", "phone"}
	for i := range 40 {
		f.Add([]byte(fmt.Sprintf("%c%c seed %d of requests by people %c%c%c%c%c", i*7, i*13, i, i, i*3, i*5, i*11, i*17)))
	}
	f.Fuzz(func(t *testing.T, raw []byte) {
		if sum := fnv.New32a(); !long.Whole() && !fuzzing() { // of the corpus, a fixed tenth
			sum.Write(raw)
			if sum.Sum32()%10 != 0 {
				t.Skip("runs with make long")
			}
		}
		pick := &choices{raw}
		c.t = t
		c.reset()
		for range 1 + pick.of(6) {
			w, name := oneOf(pick, ways), oneOf(pick, names)
			project := oneOf(pick, c.projects)
			key, of := w.method+" "+w.path, strings.HasPrefix(w.path, "/p/:id")
			path := strings.NewReplacer(":id", fmt.Sprint(project), ":stage", oneOf(pick, stages).Key, ":file",
				oneOf(pick, []string{"cut-list.csv", "build-sheet.html", "project.chamfer.json", "none"}), ":secret",
				url.PathEscape(pick.text()+"x")).Replace(w.path)
			form := url.Values{}
			for range pick.of(6) {
				value := oneOf(pick, peopleTexts)
				if pick.byte()%8 == 0 {
					value = pick.text()
				}
				form.Add(oneOf(pick, peopleFields), value)
			}
			if h, err := c.store.Standing(t.Context(), project); err == nil && pick.byte()%4 > 0 {
				form.Set("rev", fmt.Sprint(h.Head))
			}
			ctx, done := context.WithTimeout(t.Context(), time.Minute)
			stream := strings.HasSuffix(w.path, "/events")
			if stream { // it ends when nobody looks any more
				ctx, done = context.WithTimeout(t.Context(), 10*time.Millisecond)
			}
			r := httptest.NewRequest(w.method, path, strings.NewReader(form.Encode())).WithContext(ctx)
			r.Host = "localhost"
			if w.method == http.MethodPost {
				r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
			}
			if pick.byte()%2 == 0 {
				r.Header.Set("X-Chamfer", "part")
			}
			if token := c.tokens[name]; token != "" {
				r.AddCookie(&http.Cookie{Name: "chamfer", Value: token})
			}
			before, theirs := c.version(), c.theirsNow()
			c.logged.Reset()
			a := httptest.NewRecorder()
			c.h.ServeHTTP(a, r)
			done()
			what := fmt.Sprintf("%s %s %v by %s: status %d", w.method, path, form, name, a.Code)
			away := a.Code == 401 || a.Code == 403 || strings.HasPrefix(a.Header().Get("Location"), "/sign-in") ||
				a.Code == 404 && strings.Contains(a.Body.String(), "There is no such project.")
			if stream && a.Body.Len() == 0 { // it ended before it began
				continue
			}
			who := waysIn[key]
			may := strings.Contains(" "+who+" ", " "+name+" ")
			if of && project == c.theirs {
				may = name == "other"
			}
			may = may && !(of && (project == 4040 || project == 2 && slices.Contains([]string{"named", "readlink", "buildlink",
				"phone"}, name)))
			switch {
			case a.Code >= 500:
				t.Fatalf("%s\n%s", what, c.logged.String())
			case !may && !away && who != "":
				t.Fatalf("%s: who may not was let in", what)
			case !may && who != "" && c.version() != before:
				t.Fatalf("%s: was turned away, and something was written", what)
			case name != "other" && c.theirsNow() != theirs:
				t.Fatalf("%s: the other household has %s, had %s", what, c.theirsNow(), theirs)
			case strings.Contains(a.Body.String(), "Theirs alone") && name != "other":
				t.Fatalf("%s: tells of the other household", what)
			case strings.Contains(a.Body.String(), "<script>alert"):
				t.Fatalf("%s: a script gets onto the page", what)
			case strings.Contains(a.Header().Get("Location"), "evil"):
				t.Fatalf("%s: leads to %s", what, a.Header().Get("Location"))
			}
			var owners int
			if err := c.db.Get(&owners, "SELECT count(*) FROM members WHERE household_id = 1 AND role = 'owner'"); err != nil ||
				owners == 0 {
				t.Fatalf("%s: no owner is left, %v", what, err)
			}
			if slices.Contains(notSteady, w.path) {
				return
			}
		}
	})
}

// version changes when something is written by anybody but the one who asks.
func (c *crowd) version() (n int) {
	c.db.SetMaxOpenConns(1)
	if err := c.db.Get(&n, "PRAGMA data_version"); err != nil {
		c.t.Fatal(err)
	}
	return n
}
