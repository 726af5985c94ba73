package catalog

import (
	"errors"
	"fmt"
	"maps"
	"regexp"
	"slices"
	"strconv"
	"strings"

	"chamfer/core/measure"
	"chamfer/core/money"
)

// Errors of a timber that cannot be read.
var (
	errTimberName  = errors.New("it needs a name first, of up to 40 letters")
	errTimberLike  = errors.New("it needs the wood that it is as strong as")
	errTimberSold  = errors.New("it needs a board, how long it comes and what that costs")
	errTimberYears = errors.New("years in soil run from fewer to more, from 1 to 60")
)

// OwnTimber is what the ID of a timber of somebody's own begins with.
const OwnTimber = "own:"

// mostOffers is how many lengths one timber of somebody's own comes in.
const mostOffers = 40

// mostOfferPrice is what a board of one's own costs at most, in the minor unit of the currency.
const mostOfferPrice money.Amount = 1_000_000

var (
	lasts  = regexp.MustCompile(`^lasts (\d{1,2}) to (\d{1,2}) years$`)
	dense  = regexp.MustCompile(`^([\d.]+) (kg/m³|kg/m3|lb/ft³|lb/ft3)$`)
	priced = regexp.MustCompile(`^(.+) at (.+) for (\S+)$`)
)

// ParseTimber reads a timber as someone tells of it: its name; which of the catalogue's it is as strong as; and after
// that how long it lasts in soil, how heavy it is, that it is treated, and the boards it comes in with their lengths
// and prices.
//
//	Lane ash, like cedar, lasts 5 to 8 years, 2x6 at 8 ft for 6.50, 2x6 at 10 ft for 8.20
//	Hedge oak, like oak, 680 kg/m³, 150x38 at 2.4 m for 11.90
//
// What is not told is that other timber's. Strength is never more than told: it is that timber's, whatever it
// weighs.
func (c *Catalog) ParseTimber(text string) (Species, []Offer, error) {
	fail := func(err error) (Species, []Offer, error) {
		example := "Lane ash, like cedar, lasts 5 to 8 years, 2x6 at 8 ft for 6.50, 2x6 at 10 ft for 8.20"
		if c.System == measure.Metric {
			example = "Lane ash, like larch, lasts 5 to 8 years, 150x38 at 2.4 m for 6.50, 150x38 at 3.6 m for 9.80"
		}
		return Species{}, nil, fmt.Errorf("“%s”: %w; write it like “%s”", text, err, example)
	}
	if grouped.MatchString(text) {
		return fail(measure.ErrThousands)
	}
	parts := strings.Split(strings.Join(strings.Fields(text), " "), ",")
	name := strings.TrimSpace(parts[0])
	id := Slug(name)
	if id == "" || len([]rune(name)) > 40 {
		return fail(errTimberName)
	}
	var s Species
	var offers []Offer
	type told struct{ from, to, density float64 }
	var tells told
	treated := false
	for _, note := range parts[1:] {
		note = strings.TrimSpace(note)
		switch like, found := strings.CutPrefix(note, "like "); {
		case found:
			i := slices.IndexFunc(c.Species, func(o Species) bool {
				return (strings.EqualFold(o.ID, like) || strings.EqualFold(o.Name, like)) && o.Solid() &&
					!strings.HasPrefix(o.ID, OwnTimber)
			})
			if i < 0 {
				var names []string
				for _, o := range c.Species {
					if o.Solid() && !strings.HasPrefix(o.ID, OwnTimber) {
						names = append(names, o.ID)
					}
				}
				return fail(fmt.Errorf("%q is no wood here; it may be like %s", like, strings.Join(names, " or ")))
			}
			s = c.Species[i]
		case note == "treated":
			treated = true
		case lasts.MatchString(note):
			m := lasts.FindStringSubmatch(note)
			tells.from, _ = strconv.ParseFloat(m[1], 64)
			tells.to, _ = strconv.ParseFloat(m[2], 64)
			if tells.from < 1 || tells.to < tells.from || tells.to > 60 {
				return fail(errTimberYears)
			}
		case dense.MatchString(note):
			m := dense.FindStringSubmatch(note)
			tells.density, _ = strconv.ParseFloat(m[1], 64)
			if strings.HasPrefix(m[2], "lb") {
				tells.density *= 16.018463
			}
			if tells.density < 250 || tells.density > 1200 {
				return fail(errors.New("wood weighs 250 to 1200 kg/m³ (16 to 75 lb/ft³)"))
			}
		case priced.MatchString(note):
			o, err := c.offerOf(OwnTimber+id, note)
			if err != nil {
				return fail(err)
			}
			if slices.ContainsFunc(offers, func(other Offer) bool { return other.SKU == o.SKU }) {
				return fail(fmt.Errorf("%s is told twice", o.SKU))
			}
			offers = append(offers, o)
		default:
			return fail(fmt.Errorf("%q is no board with its price, and nothing else that is told of a wood", note))
		}
	}
	switch {
	case s.ID == "":
		return fail(errTimberLike)
	case len(offers) == 0 || len(offers) > mostOffers:
		return fail(errTimberSold)
	}
	s.Source = "as you told of it; else as " + s.Name + ": " + s.Source
	s.ID, s.Name = OwnTimber+id, name
	s.Treated = s.Treated || treated
	if tells.to > 0 {
		s.LifeMin, s.LifeMax = int(tells.from), int(tells.to)
	}
	if tells.density > 0 {
		if s.Gravity > 0 { // fixings go by what it weighs where that is less, and by no more than was told of its strength
			s.Gravity *= min(1, tells.density/s.Density)
		}
		s.Density = tells.density
	}
	slices.SortFunc(offers, func(a, b Offer) int { return int(min(1, max(-1, a.Length-b.Length))) })
	return s, offers, nil
}

// offerOf reads "2x6 at 8 ft for 6.50".
func (c *Catalog) offerOf(species, text string) (Offer, error) {
	m := priced.FindStringSubmatch(text)
	i := slices.IndexFunc(c.Profiles, func(p Profile) bool {
		return (strings.EqualFold(p.ID, m[1]) || strings.EqualFold(p.Name, m[1])) && p.Kind != Panel
	})
	if i < 0 {
		return Offer{}, fmt.Errorf("no board here is called %q; %s is one", m[1], c.Profiles[0].ID)
	}
	l, err := measure.Parse(m[2], c.System)
	if err != nil {
		return Offer{}, err
	}
	if l < 300*measure.Millimetre || l > 8*measure.Metre {
		return Offer{}, errors.New("boards are 1 ft (300 mm) to 26 ft (8 m) long")
	}
	price, err := money.Parse(m[3])
	if err != nil {
		return Offer{}, err
	}
	if price <= 0 || price > mostOfferPrice {
		return Offer{}, errors.New("a board costs more than nothing and up to 10,000; what you own already goes to the shed")
	}
	label := shopLength(l)
	if parsed, err := measure.Parse(label, c.System); err != nil || parsed != l {
		label = l.String() // a length no shop has a label for
	}
	p := c.Profiles[i].ID
	return Offer{Profile: p, Species: species, Length: l, Label: label, SKU: p + "/" + species + "/" + label, Price: price,
		Source: "as you told of it"}, nil
}

// Solid reports whether it is a timber that boards are sawn of, and no panel.
func (s Species) Solid() bool { return s.Method == "nds" || s.Method == "ec5" }

// Slug makes an ID, or a file's name, of a name: its small letters and digits, a hyphen between; "" where it has none.
func Slug(name string) string {
	slug := strings.Map(func(r rune) rune {
		switch {
		case r >= 'a' && r <= 'z', r >= '0' && r <= '9':
			return r
		case r >= 'A' && r <= 'Z':
			return r + 'a' - 'A'
		}
		return '-'
	}, name)
	return strings.Trim(strings.Join(strings.FieldsFunc(slug, func(r rune) bool { return r == '-' }), "-"), "-")
}

// WithTimbers is the catalogue with the timbers that someone told of, in the order of their IDs; those that cannot be
// read are left out.
func (c *Catalog) WithTimbers(own map[string]string) *Catalog {
	mine := func(id string) bool { return strings.HasPrefix(id, OwnTimber) }
	if len(own) == 0 && !slices.ContainsFunc(c.Species, func(s Species) bool { return mine(s.ID) }) {
		return c
	}
	with := *c
	with.Species = slices.DeleteFunc(slices.Clone(c.Species), func(s Species) bool { return mine(s.ID) })
	with.Offers = slices.DeleteFunc(slices.Clone(c.Offers), func(o Offer) bool { return mine(o.Species) })
	for _, id := range slices.Sorted(maps.Keys(own)) {
		if s, offers, err := c.ParseTimber(own[id]); err == nil && s.ID == id {
			with.Species = append(with.Species, s)
			with.Offers = append(with.Offers, offers...)
		}
	}
	return &with
}
