// Package money counts what things cost, in whole cents (or pence: the minor
// unit of one currency). Prices are added and multiplied exactly; only a rate,
// such as tax, rounds, half a cent upwards, once, on the total it applies to.
package money

import (
	"errors"
	"fmt"
	"math/big"
	"regexp"
	"strconv"
	"strings"
	"unicode"
)

// Amount is a sum in minor units: 1140 is 11.40.
type Amount int64

// Max is the largest price or amount accepted from a person or a file: ten
// million in major units.
const Max Amount = 1_000_000_000

// thousands are written with commas where a point follows: 1,250.00.
var thousands = regexp.MustCompile(`^\d{1,3}(,\d{3})+\.\d\d$`)

// Reasons an amount is refused.
var (
	ErrSyntax   = errors.New("this is not a price; write it like 11.40")
	ErrNegative = errors.New("a price cannot be negative")
	ErrTooMuch  = errors.New("a price over ten million is refused")
)

// Parse reads 11.40, 11,40, 11, .50, 1,250.00 or $11.40, with the sign of any currency
// before or behind. Fractions of a cent are refused, not rounded; so is 1,250, which
// may be a thousand or one.
func Parse(text string) (Amount, error) {
	sign := func(r rune) bool { return unicode.Is(unicode.Sc, r) || unicode.IsSpace(r) }
	s := strings.TrimFunc(text, sign)
	if thousands.MatchString(s) {
		s = strings.ReplaceAll(s, ",", "")
	}
	if strings.HasPrefix(s, "-") {
		return 0, fmt.Errorf("price %q: %w", text, ErrNegative)
	}
	whole, part, _ := strings.Cut(strings.Replace(s, ",", ".", 1), ".")
	if len(part) > 2 || len(whole) > 12 || whole+part == "" || strings.Trim(whole+part, "0123456789") != "" {
		return 0, fmt.Errorf("price %q: %w", text, ErrSyntax)
	}
	n, err := strconv.ParseInt(whole+(part + "00")[:2], 10, 64)
	if err != nil {
		return 0, fmt.Errorf("price %q: %w", text, ErrSyntax)
	}
	if Amount(n) > Max {
		return 0, fmt.Errorf("price %q: %w", text, ErrTooMuch)
	}
	return Amount(n), nil
}

// String prints a plain decimal, 11.40, which [Parse] reads back.
func (a Amount) String() string {
	sign := ""
	if a < 0 {
		sign, a = "-", -a
	}
	return fmt.Sprintf("%s%d.%02d", sign, a/100, a%100)
}

// MarshalText writes a as a decimal string.
func (a Amount) MarshalText() ([]byte, error) { return []byte(a.String()), nil }

// UnmarshalText reads a decimal string.
func (a *Amount) UnmarshalText(text []byte) error {
	parsed, err := Parse(string(text))
	if err != nil {
		return err
	}
	*a = parsed
	return nil
}

// Times returns n of a.
func (a Amount) Times(n int) Amount { return a * Amount(n) }

// Rate returns a's share at basis points (hundredths of a per cent), half a
// cent rounded up: Amount(1000).Rate(725) is 73.
func (a Amount) Rate(basisPoints int) Amount {
	return Amount((int64(a)*int64(basisPoints) + 5000) / 10000)
}

// Per returns a shared over quantity, to the nearest cent; zero when there is
// no quantity to share over.
func (a Amount) Per(quantity float64) Amount {
	if quantity <= 0 {
		return 0
	}
	r := new(big.Rat).SetFloat64(quantity)
	if r == nil {
		return 0
	}
	r.Quo(new(big.Rat).SetInt64(int64(a)), r)
	f, _ := r.Float64()
	return Amount(f + 0.5)
}

// Currency is how amounts are written on screen.
type Currency struct {
	Code   string `json:"code"`   // three letters, such as USD
	Symbol string `json:"symbol"` // such as $
}

// Format writes $11.40, or −$11.40 below zero.
func (c Currency) Format(a Amount) string {
	if a < 0 {
		return "−" + c.Format(-a)
	}
	s := a.String()
	whole, part, _ := strings.Cut(s, ".")
	for i := len(whole) - 3; i > 0; i -= 3 {
		whole = whole[:i] + "," + whole[i:]
	}
	return c.Symbol + whole + "." + part
}
