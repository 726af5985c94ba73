package people

import (
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/alexedwards/argon2id"
)

func TestRoles(t *testing.T) {
	want := map[Role]string{Owner: "look down design keep", Helper: "look down", Reader: "look", Guest: "", "": "",
		"king": ""}
	for r, rights := range want {
		var has []string
		for do, name := range []string{"look", "down", "design", "keep"} {
			if r.May(Right(do)) {
				has = append(has, name)
			}
		}
		if got := strings.Join(has, " "); got != rights {
			t.Errorf("%q may %q, want %q", r, got, rights)
		}
	}
	for _, c := range []struct{ household, project, want Role }{
		{Owner, Reader, Owner}, {Owner, "", Owner}, {Helper, Reader, Reader}, {Reader, Helper, Helper}, {Guest, Helper,
			Helper},
		{Guest, "", Guest}, {Helper, Guest, Guest}, {Reader, "king", Reader},
	} {
		if got := Of(c.household, c.project); got != c.want {
			t.Errorf("%s of the household, %q in the project: %s, want %s", c.household, c.project, got, c.want)
		}
	}
}

// Passwords by NIST SP 800-63B and OWASP ASVS 4.0.3 chapter 2.1 (from memory): long ones, any signs, the commonest
// refused, no rules on which signs there are; kept by argon2id at the cost of RFC 9106's second choice (from memory).
func TestPasswords(t *testing.T) {
	for text, says := range map[string]string{
		"short":                                        "12 characters",
		"elevenchars":                                  "12 characters",
		"password1234":                                 "first that are tried",
		"qwertyuiop123":                                "first that are tried",
		"aaaaaaaaaaaaaaaa":                             "first that are tried",
		"abcdefghijklmnop":                             "first that are tried",
		strings.Repeat("x7Kq", 33):                     "at most 128",
		"bad \xff bytes in here":                       "no text",
		"pear kettle hinge walnut":                     "",
		"päron kittel gångjärn valnöt":                 "",
		"梨子茶壺鉸鏈核桃木頭花園籬笆":                               "",
		strings.Repeat("pear kettle hinge walnut ", 5): "",
	} {
		err := Password(text, "Ottoline")
		if says == "" && err != nil || says != "" && (err == nil || !strings.Contains(err.Error(), says)) {
			t.Errorf("%q: %v, want %q", text, err, says)
		}
	}
	if Password("OttolineMarrow", "Ottoline Marrow") == nil {
		t.Error("a password made of the name is taken")
	}
	hash, err := Hash("pear kettle hinge walnut")
	if err != nil || !strings.HasPrefix(hash, "$argon2id$v=19$m=65536,t=3,p=4$") {
		t.Fatalf("%s %v", hash, err)
	}
	if !Matches("pear kettle hinge walnut", hash) || Matches("pear kettle hinge walnut ", hash) || Matches("", "") ||
		Matches("", hash) {
		t.Error("the wrong password opens it, or the right one does not")
	}
	// The same letters, composed and not (Unicode Standard Annex 15).
	if h, _ := Hash("e\u0301pinard et laitue verte"); !Matches("\u00e9pinard et laitue verte", h) {
		t.Error("an accent typed on another keyboard is another password")
	}
	if other, _ := Hash("pear kettle hinge walnut"); other == hash {
		t.Error("two hashes of one password are the same: there is no salt")
	}
	// Another implementation of the format reads it: the library's own check of its parameters.
	if p, salt, key, err := argon2id.DecodeHash(hash); err != nil || p.Memory != 65536 || len(salt) != 16 ||
		len(key) != 32 {
		t.Errorf("%v %v", p, err)
	}
}

// A flood locks out whoever floods, and nobody else.
func TestTries(t *testing.T) {
	now := time.Date(2026, 5, 1, 9, 0, 0, 0, time.UTC)
	tries := Tries{Now: func() time.Time { return now }}
	for range fromPlace {
		if w := tries.Wait("10.0.0.9", "ada", ""); w != 0 {
			t.Fatalf("waits %v before the limit", w)
		}
		tries.Failed("10.0.0.9", "ada", "")
	}
	if tries.Wait("10.0.0.9", "ada", "") != window || tries.Wait("10.0.0.9", "ben", "") != window {
		t.Error("the place that flooded may go on")
	}
	if tries.Wait("10.0.0.8", "ada", "") != 0 {
		t.Error("the name is locked for another place")
	}
	for i := range 50_000 { // from everywhere
		tries.Failed(fmt.Sprintf("10.1.%d.%d", i/256, i%256), "ada", "")
	}
	if tries.Wait("10.0.0.8", "ada", "") == 0 || tries.Wait("10.0.0.8", "ada", "known") != 0 {
		t.Error("a flood from everywhere goes on, or keeps the owner's own device out")
	}
	if len(tries.log) > mostKeys+1 {
		t.Errorf("%d keys are remembered", len(tries.log))
	}
	now = now.Add(window - time.Second)
	tries.Failed("10.0.0.9", "ada", "")
	if w := tries.Wait("10.0.0.8", "ada", ""); w > time.Second {
		t.Errorf("waits %v an hour on", w)
	}
	now = now.Add(2 * time.Second)
	if tries.Wait("10.0.0.9", "ben", "") != 0 {
		t.Error("an hour does not pass")
	}
	tries.Passed("10.0.0.9", "")
	if tries.recent("place 10.0.0.9") != nil {
		t.Error("a password that was right is held against its place")
	}
}

func TestNames(t *testing.T) {
	for text, want := range map[string]string{" Ada  of the lane ": "Ada of the lane", "Åse": "Åse", "A\u030ase": "Åse"} {
		if got, err := Name(text); got != want || err != nil {
			t.Errorf("%q reads %q, %v", text, got, err)
		}
	}
	for _, text := range []string{"", "  ", "a\x00b", "\u202eada", strings.Repeat("a", 61), "\xff"} {
		if got, err := Name(text); err == nil {
			t.Errorf("%q is taken as %q", text, got)
		}
	}
	a, kept := Secret()
	b, _ := Secret()
	if a == b || len(a) != 43 || string(kept) != string(Kept(a)) || strings.Contains(string(kept), a) {
		t.Errorf("%q %q", a, b)
	}
}
