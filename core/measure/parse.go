package measure

import (
	"errors"
	"fmt"
	"math/big"
	"strconv"
	"strings"
	"unicode"
	"unicode/utf8"
)

// System is the way a project counts: it decides what a bare number means and
// how lengths are printed.
type System string

// The two systems of measure.
const (
	Imperial System = "imperial" // a bare number is inches
	Metric   System = "metric"   // a bare number is millimetres
)

// Reasons a length is refused. A [ParseError] wraps one of them.
var (
	ErrEmpty     = errors.New("nothing was given")
	ErrSyntax    = errors.New("this is not a length")
	ErrNegative  = errors.New("a length cannot be negative")
	ErrTooLong   = errors.New("a length over 100 m is more than a garden needs")
	ErrMixed     = errors.New("feet and inches do not go together with metres")
	ErrZeroBelow = errors.New("a fraction needs a number below the line")
	ErrEither    = errors.New("this may be inches or millimetres")
	ErrThousands = errors.New(
		"three digits after a comma may be thousands or a part: leave the comma out, or write a point",
	)
)

// ParseError says which text was refused, from where on and why.
type ParseError struct {
	Text   string
	From   string // what could not be read, with plain quotes and in small letters
	Reason error
	System System
}

// Example returns a length that would have been accepted.
func (e *ParseError) Example() string {
	if errors.Is(e.Reason, ErrEither) {
		bare := strings.TrimSpace(e.Text)
		if l, err := Parse(bare+" in", Imperial); err == nil {
			return bare + " mm or " + Precision{System: Imperial, Step: Inch}.Feet(l)
		}
		return bare + " mm"
	}
	if e.System == Metric {
		return "2400 or 2.4 m"
	}
	return `7'6" or 93 1/2 in`
}

func (e *ParseError) Error() string {
	where := ""
	if errors.Is(e.Reason, ErrSyntax) && e.From != "" && e.From != strings.ToLower(e.Text) {
		where = fmt.Sprintf(", from %q on", e.From)
	}
	return fmt.Sprintf("length %q%s: %v; write it like %s", e.Text, where, e.Reason, e.Example())
}

func (e *ParseError) Unwrap() error { return e.Reason }

// bareInches is the longest that a bare number of inches is taken for, 40 ft: past it millimetres
// are as likely meant, and it is asked about.
const bareInches = 40 * Foot

// Parse reads a length as people write it: 8', 7' 6 1/2", 8'-0", 93-1/2", ½", 2.4 m,
// 2,4 m, 240 cm, 2400. A bare number is in inches or millimetres as sys says, and where it is
// inches, 7-6 is seven feet six; more bare inches than 40 ft are refused with both readings.
// Typographic primes and quotes count as ' and ". Zero is accepted here (a post
// may stop 0 in below the rim); whoever asks decides whether it makes sense.
// The result is exact wherever the writing is; otherwise it is the nearest
// nanometre. A comma before three digits is refused, since 1,000 mm is a thousand to
// some and one to others; 0,125 m has but one meaning. Errors are of type [*ParseError].
func Parse(text string, sys System) (Length, error) {
	p := &parser{text: text, sys: sys}
	l, err := p.length()
	if err != nil {
		return 0, &ParseError{Text: text, From: p.from, Reason: err, System: sys}
	}
	return l, nil
}

// vulgar are the fraction signs found on keyboards and in copied text.
var vulgar = map[rune][2]int64{
	'½': {1, 2}, '¼': {1, 4}, '¾': {3, 4}, '⅛': {1, 8}, '⅜': {3, 8},
	'⅝': {5, 8}, '⅞': {7, 8}, '⅓': {1, 3}, '⅔': {2, 3},
}

// units by the way they are written, longest first where one begins another.
var units = []struct {
	sign     string
	size     Length
	imperial bool
}{
	{"millimetres", Millimetre, false}, {"millimeters", Millimetre, false},
	{"metres", Metre, false}, {"meters", Metre, false}, {"metre", Metre, false}, {"meter", Metre, false},
	{"inches", Inch, true}, {"inch", Inch, true}, {"in.", Inch, true}, {"in", Inch, true},
	{"feet", Foot, true}, {"foot", Foot, true}, {"ft.", Foot, true}, {"ft", Foot, true},
	{"mm", Millimetre, false}, {"cm", Centimetre, false}, {"m", Metre, false},
	{"''", Inch, true}, {"'", Foot, true}, {`"`, Inch, true},
}

var quotes = strings.NewReplacer(
	"’",
	"'",
	"‘",
	"'",
	"′",
	"'",
	"”",
	`"`,
	"“",
	`"`,
	"″",
	`"`,
	"\u00a0",
	" ",
	"\u202f",
	" ",
	"⁄",
	"/",
	"–",
	"-",
	"−",
	"-",
)

type parser struct {
	text string
	sys  System
	from string
	rest string
}

func (p *parser) length() (Length, error) {
	p.rest = strings.TrimSpace(strings.ToLower(quotes.Replace(p.text)))
	if p.rest == "" {
		return 0, ErrEmpty
	}
	if len(p.rest) > 64 {
		return 0, ErrSyntax
	}
	if strings.HasPrefix(p.rest, "-") {
		return 0, ErrNegative
	}
	total := new(big.Rat)
	var last Length
	var imperial bool
	for first := true; p.rest != ""; first = false {
		p.from = p.rest
		n, err := p.number()
		if err != nil {
			return 0, err
		}
		size, isImperial, ok := p.unit()
		if !ok && first && p.sys == Imperial && p.dashed() { // 7-6
			size, isImperial, ok = Foot, true, true
		}
		if !ok {
			if p.rest != "" {
				p.from = p.rest
				return 0, ErrSyntax
			}
			switch {
			case first && p.sys == Metric:
				size = Millimetre
			case first:
				if n.Cmp(big.NewRat(int64(bareInches/Inch), 1)) > 0 && n.IsInt() &&
					n.Cmp(big.NewRat(int64(MaxLength/Inch), 1)) <= 0 {
					return 0, ErrEither
				}
				size, isImperial = Inch, true
			case last == Foot: // 7'6
				size, isImperial = Inch, true
			default:
				return 0, ErrSyntax
			}
		}
		if !first {
			if imperial != isImperial {
				return 0, ErrMixed
			}
			if size >= last {
				return 0, ErrSyntax
			}
		}
		last, imperial = size, isImperial
		total.Add(total, n.Mul(n, new(big.Rat).SetInt64(int64(size))))
		p.rest = strings.TrimSpace(p.rest)
		if size == Foot {
			p.dashed() // 8'-0"
		}
	}
	if total.Cmp(new(big.Rat).SetInt64(int64(MaxLength))) > 0 {
		return 0, ErrTooLong
	}
	return nearest(total), nil
}

// number reads 93, 93.5, 2,4, 5/8, 93 1/2, 93-1/2, ½ or 6½.
func (p *parser) number() (*big.Rat, error) {
	if f, ok := p.sign(); ok {
		return f, nil
	}
	digits := p.digits()
	if digits == "" && !strings.HasPrefix(p.rest, ".") {
		return nil, ErrSyntax
	}
	whole := rat(digits)
	switch {
	case strings.HasPrefix(p.rest, "/"):
		return p.below(whole)
	case strings.HasPrefix(p.rest, "."), strings.HasPrefix(p.rest, ","):
		comma := p.rest[0] == ','
		p.rest = p.rest[1:]
		decimals := p.digits()
		if decimals == "" {
			return nil, ErrSyntax
		}
		if comma && len(decimals) == 3 && whole.Sign() != 0 {
			return nil, ErrThousands
		}
		scale := rat("1" + strings.Repeat("0", len(decimals)))
		return whole.Add(whole, rat(decimals).Quo(rat(decimals), scale)), nil
	}
	// A fraction may follow: "93 1/2", "93-1/2", "93½". Otherwise the digits
	// after the blank belong to the next unit.
	kept := p.rest
	p.rest = strings.TrimLeft(strings.TrimPrefix(strings.TrimLeft(p.rest, " "), "-"), " ")
	if f, ok := p.sign(); ok {
		return whole.Add(whole, f), nil
	}
	if over := p.digits(); over != "" && strings.HasPrefix(p.rest, "/") {
		f, err := p.below(rat(over))
		if err != nil {
			return nil, err
		}
		return whole.Add(whole, f), nil
	}
	p.rest = kept
	return whole, nil
}

// dashed steps over a dash between feet and inches, where there is one.
func (p *parser) dashed() bool {
	after, found := strings.CutPrefix(strings.TrimLeft(p.rest, " "), "-")
	after = strings.TrimLeft(after, " ")
	if !found || after == "" || (after[0] < '0' || after[0] > '9') && after[0] != '.' {
		return false
	}
	p.rest = after
	return true
}

func (p *parser) below(over *big.Rat) (*big.Rat, error) {
	p.rest = p.rest[1:]
	under := rat(p.digits())
	if under.Sign() == 0 {
		return nil, ErrZeroBelow
	}
	return over.Quo(over, under), nil
}

func (p *parser) sign() (*big.Rat, bool) {
	r, size := utf8.DecodeRuneInString(p.rest)
	f, ok := vulgar[r]
	if ok {
		p.rest = p.rest[size:]
		return big.NewRat(f[0], f[1]), true
	}
	return nil, false
}

func (p *parser) digits() string {
	end := strings.IndexFunc(p.rest, func(r rune) bool { return r < '0' || r > '9' })
	if end < 0 {
		end = len(p.rest)
	}
	digits := p.rest[:end]
	p.rest = p.rest[end:]
	return digits
}

func (p *parser) unit() (size Length, imperial, ok bool) {
	trimmed := strings.TrimLeft(p.rest, " ")
	for _, u := range units {
		after, found := strings.CutPrefix(trimmed, u.sign)
		if !found {
			continue
		}
		if next, _ := utf8.DecodeRuneInString(after); after != "" && unicode.IsLetter(next) {
			continue
		}
		p.rest = after
		return u.size, u.imperial, true
	}
	return 0, false, false
}

func rat(digits string) *big.Rat {
	n, ok := new(big.Int).SetString(digits, 10)
	if !ok {
		n = new(big.Int)
	}
	return new(big.Rat).SetInt(n)
}

// nearest rounds half up to the nanometre; r is not negative.
func nearest(r *big.Rat) Length {
	twice := new(big.Int).Lsh(r.Num(), 1)
	twice.Add(twice, r.Denom())
	return Length(twice.Quo(twice, new(big.Int).Lsh(r.Denom(), 1)).Int64())
}

// ParsePair reads a length and a width in one, the longer first in what it returns: 4 x 8,
// 8 ft by 4 ft, 2.4 m × 1.2 m. Two bare numbers of up to 40 are feet where inches are counted, as
// they are said. It is false where the text is no pair.
func ParsePair(text string, sys System) (long, wide Length, ok bool, err error) {
	low := strings.ToLower(strings.ReplaceAll(text, "×", "x"))
	one, two, ok := strings.Cut(low, "x")
	if !ok {
		one, two, ok = strings.Cut(low, " by ")
	}
	if !ok {
		return 0, 0, false, nil
	}
	one, two = strings.TrimSpace(one), strings.TrimSpace(two)
	if bare(one) && bare(two) && sys == Imperial {
		one, two = one+" ft", two+" ft"
	}
	if bare(one) { // 4 x 8 ft
		one += strings.TrimLeft(two, "0123456789.,½¼¾ /-")
	}
	if long, err = Parse(one, sys); err == nil {
		wide, err = Parse(two, sys)
	}
	return max(long, wide), min(long, wide), true, err
}

// bare reports whether a text is a number of up to 40 and nothing else.
func bare(text string) bool {
	n, err := strconv.ParseFloat(text, 64)
	return err == nil && n > 0 && n <= 40
}
