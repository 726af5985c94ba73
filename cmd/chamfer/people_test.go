package main

import (
	"context"
	"path/filepath"
	"regexp"
	"strings"
	"testing"
	"time"

	"chamfer/people"
	"chamfer/store"
)

// At the machine itself: the link to the first account, who there is, a link for a new password, an owner made; each
// works while a server has the file open.
func TestPeople(t *testing.T) {
	data := filepath.Join(t.TempDir(), "beds.db")
	s, err := store.Open(data)
	if err != nil {
		t.Fatal(err)
	}
	defer s.Close()
	link := func(out string) store.Link {
		t.Helper()
		m := regexp.MustCompile(`http://127\.0\.0\.1:8420/in/(\S+)`).FindStringSubmatch(out)
		if m == nil {
			t.Fatalf("no link in %q", out)
		}
		l, err := s.Link(context.Background(), m[1])
		if err != nil {
			t.Fatal(err)
		}
		return l
	}
	for _, c := range []struct {
		o    serving
		want bool // everybody signs in, also while nobody has an account
	}{
		{serving{addr: defaultAddr}, false}, {serving{addr: defaultAddr, accounts: true}, true},
		{serving{addr: defaultAddr, proxies: []string{"10.0.0.2"}}, true},
		{serving{addr: defaultAddr, proxies: []string{"10.0.0.2"}, network: true}, false},
		{serving{addr: "0.0.0.0:0", accounts: true, own: true}, true}, {serving{addr: "0.0.0.0:0", network: true}, false},
	} {
		c.o.data = data
		d, err := c.o.door()
		if err == nil {
			err = c.o.mayLetIn(&d)
		}
		if err != nil || d.Accounts != c.want {
			t.Errorf("%+v: %v, everybody signs in %v", c.o, err, d.Accounts)
		}
	}
	for _, c := range []struct {
		args []string
		code int
		says string
		then func(out string)
	}{
		{[]string{"people"}, 0, "Nobody has an account", nil},
		{[]string{"people", "recover", "Ada"}, 2, "nobody signs in as", nil},
		{[]string{"people", "first"}, 0, "works once", func(out string) {
			if _, err := s.Join(link(out), 0, "Ada", "hash"); err != nil {
				t.Fatal(err)
			}
			house := store.Home
			secret, err := s.MakeLink(store.Link{Kind: store.Invite, Household: &house, Role: people.Helper, Once: true},
				time.Hour)
			if err != nil {
				t.Fatal(err)
			}
			l, err := s.Link(context.Background(), secret)
			if err != nil {
				t.Fatal(err)
			}
			if _, err := s.Join(l, 0, "Ben", "hash"); err != nil {
				t.Fatal(err)
			}
		}},
		{[]string{"people", "first"}, 2, "somebody has an account already", nil},
		{[]string{"people"}, 0, "Ben, helper of “Our household”", nil},
		{[]string{"people", "recover", "ada"}, 0, "works once", func(out string) {
			if l := link(out); l.Kind != store.Recover || l.Account == nil {
				t.Errorf("%+v", l)
			}
		}},
		{[]string{"people", "owner", "Ben"}, 0, "", nil},
		{[]string{"people"}, 0, "Ben, owner of “Our household”", nil},
		{[]string{"people", "recover"}, 2, "give one", nil},
		{[]string{"serve", "--addr", "192.0.2.1:0", "--secure"}, 2, "no such address", nil}, // somebody has an account
		{[]string{"serve", "--addr", "192.0.2.1:0"}, 2, "plain http", nil},
	} {
		code, out := exit(t, append(c.args, "--data", data)...)
		if code != c.code || !strings.Contains(out, c.says) {
			t.Errorf("%v: exit code %d, want %d: %s", c.args, code, c.code, out)
		}
		if c.then != nil {
			c.then(out)
		}
	}
	o := serving{addr: "0.0.0.0:0", own: true, data: data}
	if d, err := o.door(); err != nil || o.mayLetIn(&d) != nil || !d.Accounts {
		t.Errorf("with somebody there: %v, everybody signs in %v", err, d.Accounts)
	}
}
