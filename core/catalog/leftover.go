package catalog

import (
	"errors"
	"fmt"
	"regexp"
	"slices"
	"strconv"
	"strings"

	"chamfer/core/measure"
)

// Leftover is boards of one kind and length that are owned already: what the
// shed holds.
type Leftover struct {
	ID                 int64
	Profile, Species   string
	Length             measure.Length
	Width              measure.Length // of a strip ripped from the board; 0 is the board's own
	Quantity           int
	TrimStart, TrimEnd measure.Length // unusable at the ends
	BadFrom, BadTo     measure.Length // and inside, from one end; zero where sound
	Note               string         // as it was written
}

// cracked is what is sawn off a cracked end where nobody says more: 50 mm or 2
// in, past where the crack can be seen (common practice).
const cracked = 2 * measure.Inch

// knot is how much is cut round on either side of a knot or a hole: 25 mm or 1 in,
// past the grain that bends round it (common practice).
const knot = measure.Inch

// Errors of a leftover that cannot be read.
var (
	errNoBoard  = errors.New("it names no board that is known here")
	errOutside  = errors.New("what is bad about it does not lie on the board")
	errTooWide  = errors.New("a strip is narrower than its board")
	errNoUse    = errors.New("too short to be of use, or too long to be a board")
	errNoTimber = errors.New("it names no timber this board is known in")
)

var (
	howMany = regexp.MustCompile(
		`^(\d+|a|an|one|two|three|four|five|six|seven|eight|nine|ten|twelve)\s*(?:of\s|x\s|×\s?|\*\s?|\s)\s*`,
	)
	grouped = regexp.MustCompile(`\d,\d{3}\b`) // 1,000: a thousand, or one and a note of 000
)

// ParseLeftover reads what someone writes of the boards they have: how many, the
// board, the timber, the length, and after a comma what is wrong with it.
//
//	3 of 2x6 cedar 41 in, one cracked end
//	2x4 1200 mm
//	fence picket 30 in, 4 in bad at one end
//	2x8 cedar 62 in, knot at 20 in
//	2x8 cedar 62 in, bad from 20 in to 26 in
//	2x6 cedar 70 in by 2 in
//
// Where the timber is left out it is the board's first. A cracked end loses 2 in
// (50 mm), or what the note says; a knot inside 1 in (25 mm) on either side.
func (c *Catalog) ParseLeftover(text string) (Leftover, error) {
	text = strings.Join(strings.Fields(text), " ")
	fail := func(err error) (Leftover, error) {
		example := "3 of 2x6 cedar 41 in, one cracked end"
		if c.System == measure.Metric {
			example = "3 of 150x38 larch 1050 mm, one cracked end"
		}
		return Leftover{}, fmt.Errorf("“%s”: %w; write it like “%s”", text, err, example)
	}
	if grouped.MatchString(text) {
		return fail(measure.ErrThousands)
	}
	main, note, _ := strings.Cut(text, ",")
	l := Leftover{Quantity: 1, Note: strings.TrimSpace(note)}
	rest := strings.ToLower(strings.TrimSpace(main))
	profile, taken := c.named(rest)
	if m := howMany.FindStringSubmatch(rest); taken == "" && m != nil {
		n, ok := numbers[m[1]]
		if !ok {
			n, _ = strconv.Atoi(m[1])
		}
		if n < 1 || n > 1000 {
			return fail(errors.New("1 to 1000 of a kind works"))
		}
		l.Quantity, rest = n, rest[len(m[0]):]
		profile, taken = c.named(rest)
	}
	if taken == "" {
		return fail(errNoBoard)
	}
	l.Profile, rest = profile.ID, strings.TrimSpace(rest[len(taken):])
	for _, s := range c.Species {
		first, _, _ := strings.Cut(strings.ToLower(s.Name), ",")
		for _, name := range []string{strings.ToLower(s.Name), first, s.ID} {
			if after, ok := strings.CutPrefix(rest, name+" "); ok && c.Sold(profile.ID, s.ID) {
				l.Species, rest = s.ID, after
				break
			}
		}
		if l.Species != "" {
			break
		}
	}
	if l.Species == "" {
		i := slices.IndexFunc(c.Offers, func(o Offer) bool { return o.Profile == profile.ID })
		if i < 0 || strings.IndexFunc(rest, func(r rune) bool { return r >= '0' && r <= '9' }) != 0 {
			return fail(errNoTimber)
		}
		l.Species = c.Offers[i].Species
	}
	var err error
	long, wide, strip := strings.Cut(rest, " by ")
	if l.Length, err = measure.Parse(long, c.System); err != nil {
		return fail(err)
	}
	if strip {
		if l.Width, err = measure.Parse(wide, c.System); err != nil {
			return fail(err)
		}
		if l.Width >= profile.Width {
			return fail(errTooWide)
		}
	}
	if err := l.spoiled(c.System); err != nil {
		return fail(err)
	}
	if l.Length-l.TrimStart-l.TrimEnd < 50*measure.Millimetre || l.Length > 20*measure.Metre {
		return fail(errNoUse)
	}
	return l, nil
}

// CheckLeftover refuses boards that cannot be: of a profile or timber that is not known
// here, or with more wrong than there is of them.
func (c *Catalog) CheckLeftover(l Leftover) error {
	p, err := c.Profile(l.Profile)
	if err != nil {
		return err
	}
	if _, err := c.SpeciesOf(l.Species); err != nil {
		return err
	}
	switch {
	case l.Quantity < 1 || l.Quantity > MostLeftover:
		return fmt.Errorf("1 to %d of a kind works", MostLeftover)
	case l.Width < 0 || l.Width >= p.Width:
		return errTooWide
	case l.TrimStart < 0 || l.TrimEnd < 0 || l.BadFrom < 0 || l.BadFrom > l.BadTo || l.BadTo > l.Length:
		return errOutside
	case l.Length-l.TrimStart-l.TrimEnd < 50*measure.Millimetre || l.Length > 20*measure.Metre:
		return errNoUse
	}
	return nil
}

// MostLeftover is how many boards of one kind a shed holds.
const MostLeftover = 100_000

// named is the board that a text begins with the name of, and that name; the longest.
func (c *Catalog) named(text string) (profile Profile, taken string) {
	for _, p := range c.Profiles {
		for _, name := range []string{p.ID, strings.ToLower(p.Name), strings.ReplaceAll(strings.ToLower(p.Name), " ",
			""), strings.ReplaceAll(p.ID, "x", " x ")} {
			if strings.HasPrefix(text+" ", name+" ") && len(name) > len(taken) {
				profile, taken = p, name
			}
		}
	}
	return profile, taken
}
