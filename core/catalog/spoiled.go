package catalog

import (
	"errors"
	"regexp"
	"strings"

	"chamfer/core/measure"
)

// What people write is wrong with a board. It is understood, or asked about: no length that
// somebody wrote is passed over.

// Questions about a note.
var (
	errHowFar  = errors.New("how far in is it bad? A length in the note says so, such as “18 in cracked at one end”")
	errWhichOf = errors.New(
		"the note has two lengths; write one, such as “18 in (450 mm) cracked at one end”, or “bad from 20 to 26 in" +
			" (500 to 650 mm)”",
	)
	errWhatOf = errors.New(
		"what is wrong with that length of it? Write it like “18 in (450 mm) cracked at one end” or “a knot at 20 in" +
			" (500 mm)”",
	)
	errWarped = errors.New(
		"how long is it straight? Write that as its length and leave the word out, or “bowed but usable”",
	)
)

var (
	bad = regexp.MustCompile(
		`\b(crack|cracked|cracks|split|splits|check|checked|bad|broken|rotten|rot|damaged|unusable|useless|chewed|spoiled|` +
			`burnt|nails)\b`,
	)
	bent    = regexp.MustCompile(`\b(warped|bowed|cupped|twisted|crooked|bent|warp|twist)\b`)
	usable  = regexp.MustCompile(`\b(usable|useable|still good|good enough|all right|ok|anyway|slightly|a little)\b`)
	far     = regexp.MustCompile(`\b(long|big|bad|badly|deep|deeply|half|most|mostly|lot|far|way)\b`)
	badFrom = regexp.MustCompile(`\bfrom (.+?) to (.+)$`)
	badAt   = regexp.MustCompile(`\bat (\d.*)$`)
	bothEnd = regexp.MustCompile(`\b(both|two|each|either)\b`)
	leftEnd = regexp.MustCompile(`\b(left|start|first)\b`)
	said    = regexp.MustCompile(
		`(\d[\d /.,½¼¾⅛⅜⅝⅞'"-]*|[½¼¾⅛⅜⅝⅞])\s*(feet|foot|ft|inches|inch|in|mm|cm|metres|metre|meters|meter|m|'|")?(?:\s|$|` +
			`[,.;])`,
	)
	spelled = regexp.MustCompile(
		`\b(half an?|an?|one|two|three|four|five|six|seven|eight|nine|ten|twelve) (foot|feet|ft|inches|inch|in|metres|` +
			`metre|meters|meter|m|centimetres|cm|millimetres|mm)( and a half)?\b`,
	)
	andHalf = regexp.MustCompile(`(\d+) (foot|feet|ft|inches|inch|in|metres|metre|meters|meter|m) and a half\b`)
)

// numbers are those that people write out.
var numbers = map[string]int{
	"a": 1, "an": 1, "one": 1, "two": 2, "three": 3, "four": 4, "five": 5, "six": 6, "seven": 7, "eight": 8, "nine": 9,
	"ten": 10, "twelve": 12,
}

// units are the lengths of what people name.
var units = map[string]measure.Length{
	"foot": measure.Foot, "feet": measure.Foot, "ft": measure.Foot, "inch": measure.Inch, "inches": measure.Inch,
	"in":    measure.Inch,
	"metre": measure.Metre, "metres": measure.Metre, "meter": measure.Metre, "meters": measure.Metre,
	"m":           measure.Metre,
	"centimetres": 10 * measure.Millimetre, "cm": 10 * measure.Millimetre, "millimetres": measure.Millimetre,
	"mm": measure.Millimetre,
}

// lengths takes the lengths out of a note, in whatever way they are written.
func lengths(note string, sys measure.System) (list []measure.Length, rest string) {
	take := func(of *regexp.Regexp, read func(m []string) (measure.Length, bool)) {
		note = of.ReplaceAllStringFunc(note, func(words string) string {
			l, ok := read(of.FindStringSubmatch(words))
			if !ok {
				return words
			}
			list = append(list, l)
			return " "
		})
	}
	take(andHalf, func(m []string) (measure.Length, bool) {
		l, err := measure.Parse(m[1]+" "+m[2], sys)
		return l + units[m[2]]/2, err == nil
	})
	take(spelled, func(m []string) (measure.Length, bool) {
		unit := units[m[2]]
		l := unit / 2
		if n, ok := numbers[m[1]]; ok {
			l = measure.Length(n) * unit
		}
		if m[3] != "" {
			l += unit / 2
		}
		return l, true
	})
	take(said, func(m []string) (measure.Length, bool) {
		words := strings.TrimSpace(m[1])
		if m[2] != "" {
			words += " " + m[2]
		}
		l, err := measure.Parse(words, sys)
		return l, err == nil
	})
	return list, note
}

// spoiled reads from the note what is wrong with a board: where it is bad between its ends,
// or which ends and how far.
func (l *Leftover) spoiled(sys measure.System) error {
	note := strings.ToLower(l.Note)
	if m := badFrom.FindStringSubmatch(note); m != nil {
		from, err1 := measure.Parse(m[1], sys)
		to, err2 := measure.Parse(m[2], sys)
		if err := errors.Join(err1, err2); err != nil {
			return err
		}
		l.BadFrom, l.BadTo = min(from, to), max(from, to)
		return l.within()
	}
	if m := badAt.FindStringSubmatch(note); m != nil {
		at, err := measure.Parse(m[1], sys)
		if err != nil {
			return err
		}
		l.BadFrom, l.BadTo = max(0, at-knot), min(l.Length, at+knot)
		return l.within()
	}
	list, rest := lengths(note, sys)
	damaged := bad.MatchString(rest)
	switch {
	case bent.MatchString(rest) && !usable.MatchString(rest):
		return errWarped
	case len(list) > 1:
		return errWhichOf
	case len(list) == 1 && !damaged:
		return errWhatOf
	case !damaged:
		return nil
	case len(list) == 0 && far.MatchString(bad.ReplaceAllString(rest, "")):
		return errHowFar
	}
	off := cracked
	if len(list) == 1 {
		off = list[0]
	}
	switch {
	case bothEnd.MatchString(rest):
		l.TrimStart, l.TrimEnd = off, off
	case leftEnd.MatchString(rest):
		l.TrimStart = off
	default:
		l.TrimEnd = off
	}
	return nil
}

// within refuses a bad stretch that does not lie on the board.
func (l *Leftover) within() error {
	if l.BadTo > l.Length || l.BadFrom > l.BadTo || l.BadTo == 0 {
		return errOutside
	}
	return nil
}

// Off says what is not used of a board, and at which end; nothing where all of it is.
func (l Leftover) Off(p measure.Precision) string {
	switch {
	case l.TrimStart > 0 && l.TrimEnd > 0:
		return p.Short(l.TrimStart) + " off the left end and " + p.Short(l.TrimEnd) + " off the right"
	case l.TrimStart > 0:
		return p.Short(l.TrimStart) + " off the left end"
	case l.TrimEnd > 0:
		return p.Short(l.TrimEnd) + " off the right end"
	case l.BadTo > 0:
		return "not used from " + p.Short(l.BadFrom) + " to " + p.Short(l.BadTo)
	}
	return ""
}
