package people

import (
	"crypto/rand"
	"crypto/sha256"
	"encoding/base64"
	"errors"
	"fmt"
	"strings"
	"sync"
	"unicode"
	"unicode/utf8"

	"github.com/alexedwards/argon2id"
	"github.com/trustelem/zxcvbn"
	"golang.org/x/text/unicode/norm"
)

// How long a password is, in characters: NIST SP 800-63B section 5.1.1.2 and OWASP ASVS 4.0.3, 2.1.1 and 2.1.2 (from
// memory), which let sixty-four in at least.
const (
	ShortPassword = 12
	LongPassword  = 128
)

// cost is the second choice of RFC 9106, section 4, for where memory is dear: 64 MiB, three passes, four lanes (from
// memory).
var cost = argon2id.Params{Memory: 64 << 10, Iterations: 3, Parallelism: 4, SaltLength: 16, KeyLength: 32}

// at bounds how many are reckoned at once, so that a flood takes a bounded share of the machine.
var at = make(chan struct{}, 2)

// Password says why a password will not do, nil where it will. Of whoever it is for, their names are known: they are
// no secret.
func Password(text string, known ...string) error {
	text = norm.NFC.String(text)
	n := utf8.RuneCountInString(text)
	switch {
	case !utf8.ValidString(text):
		return errors.New("that is no text: letters, signs and spaces work")
	case n < ShortPassword:
		return fmt.Errorf("a password has %d characters or more; four or five words that do not go together work",
			ShortPassword)
	case n > LongPassword:
		return fmt.Errorf("a password has at most %d characters", LongPassword)
	}
	for _, k := range known {
		known = append(known, strings.Fields(k)...)
		known = append(known, strings.ReplaceAll(k, " ", ""))
	}
	head := string([]rune(text)[:min(n, 40)]) // what is guessed is guessed from its beginning
	if s := zxcvbn.PasswordStrength(head, append(known, "chamfer", "garden")); s.Score < 2 {
		return errors.New("that is among the first that are tried; four or five words that do not go together work")
	}
	return nil
}

// Hash is a password as it is kept: argon2id, with its salt and its cost.
func Hash(text string) (string, error) {
	at <- struct{}{}
	defer func() { <-at }()
	return argon2id.CreateHash(norm.NFC.String(text), &cost)
}

// nobody is the hash of a password that nobody has: whoever is not known takes as long to refuse as who is.
var nobody = sync.OnceValue(func() string {
	h, err := argon2id.CreateHash(rand.Text(), &cost)
	if err != nil {
		return ""
	}
	return h
})

// Matches reports whether a password is the one that was kept; "" is nobody's, and takes as long.
func Matches(text, kept string) bool {
	at <- struct{}{}
	defer func() { <-at }()
	if kept == "" {
		_, _ = argon2id.ComparePasswordAndHash(norm.NFC.String(text), nobody())
		return false
	}
	ok, err := argon2id.ComparePasswordAndHash(norm.NFC.String(text), kept)
	return err == nil && ok
}

// LongName is how long the name that somebody signs in with may be, in characters.
const LongName = 60

// Name cleans the name that somebody signs in with, and says why it will not do.
func Name(text string) (string, error) {
	text = strings.Join(strings.Fields(norm.NFC.String(text)), " ")
	switch n := utf8.RuneCountInString(text); {
	case n == 0:
		return "", errors.New("a name is needed to sign in with: a first name works")
	case n > LongName:
		return "", fmt.Errorf("a name has at most %d characters", LongName)
	case !utf8.ValidString(text) || strings.ContainsFunc(text, func(r rune) bool { return !unicode.IsPrint(r) }):
		return "", errors.New("that name has signs that cannot be seen; letters and numbers work")
	}
	return text, nil
}

// Secret makes what a link is opened by: 256 bits, and the hash that is kept of it.
func Secret() (text string, kept []byte) {
	var raw [32]byte
	_, _ = rand.Read(raw[:]) // it never fails (crypto/rand)
	text = base64.RawURLEncoding.EncodeToString(raw[:])
	return text, Kept(text)
}

// Kept is the hash that is kept of a secret. With 256 bits to guess, it needs no salt and no cost.
func Kept(text string) []byte {
	h := sha256.Sum256([]byte(text))
	return h[:]
}
