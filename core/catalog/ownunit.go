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
)

// Errors of a unit that cannot be read.
var (
	errThreeSizes = errors.New("it needs a name and three sizes: length, depth and height")
	errUnitSize   = errors.New("no block is that large or that small: from 20 mm (3/4 in) to 1.2 m (4 ft) works")
	errTaper      = errors.New("it tapers from its length to less, but not to less than half")
)

var (
	sized   = regexp.MustCompile(`^(.*?)\s*(\d.*)$`)
	between = regexp.MustCompile(`\s*[x×]\s*`)
	weighs  = regexp.MustCompile(`^([\d.]+)\s*(kg|lb)$`)
)

// ParseUnit reads a block as someone measures it: its name, how long, deep and high it
// is, and after commas a joint, what it tapers to behind, what it weighs.
//
//	Lane stone 12 in x 8 in x 4 in
//	Old brick 220 mm x 105 mm x 65 mm, joint 10 mm, 2.8 kg
//	Wedge 12 in x 8 in x 4 in, tapers to 9 in
//
// Where nobody says what it weighs it is reckoned as concrete.
func ParseUnit(text string, sys measure.System) (Unit, error) {
	fail := func(err error) (Unit, error) {
		example := "Lane stone 12 in x 8 in x 4 in, joint 3/8 in"
		if sys == measure.Metric {
			example = "Lane stone 300 mm x 200 mm x 100 mm, joint 10 mm"
		}
		return Unit{}, fmt.Errorf("“%s”: %w; write it like “%s”", text, err, example)
	}
	if grouped.MatchString(text) {
		return fail(measure.ErrThousands)
	}
	main, notes, _ := strings.Cut(strings.Join(strings.Fields(text), " "), ",")
	m := sized.FindStringSubmatch(strings.TrimSpace(main))
	if m == nil || m[1] == "" || len(m[1]) > 60 {
		return fail(errThreeSizes)
	}
	sizes := between.Split(m[2], -1)
	if len(sizes) != 3 {
		return fail(errThreeSizes)
	}
	u := Unit{Name: m[1], Kind: WallUnit, Pallet: 1, Source: "measured"}
	for i, to := range []*measure.Length{&u.Length, &u.Depth, &u.Height} {
		l, err := measure.Parse(sizes[i], sys)
		if err != nil {
			return fail(err)
		}
		if l < 19*measure.Millimetre || l > 1220*measure.Millimetre {
			return fail(errUnitSize)
		}
		*to = l
	}
	u.Back = u.Length
	for note := range strings.SplitSeq(notes, ",") {
		note = strings.TrimSpace(note)
		var err error
		if size, ok := strings.CutPrefix(note, "joint "); ok {
			if u.Joint, err = measure.Parse(size, sys); err == nil && (u.Joint < 0 || u.Joint > 30*measure.Millimetre) {
				err = errUnitSize
			}
		} else if size, ok := strings.CutPrefix(note, "tapers to "); ok {
			u.Kind = RingUnit
			if u.Back, err = measure.Parse(size, sys); err == nil && (u.Back >= u.Length || 2*u.Back < u.Length) {
				err = errTaper
			}
		} else if w := weighs.FindStringSubmatch(note); w != nil {
			if u.Mass, err = strconv.ParseFloat(w[1], 64); w[2] == "lb" {
				u.Mass *= 0.45359237
			}
		} else if note != "" {
			err = fmt.Errorf("%q is no joint, taper or weight", note)
		}
		if err != nil {
			return fail(err)
		}
	}
	v := measure.Over((u.Length+u.Back)/2, u.Depth).By(u.Height).CubicMetres()
	if u.Mass == 0 {
		u.Mass = v * concrete
	}
	if d := u.Mass / v; d < 300 || d > 4000 {
		return fail(fmt.Errorf("it would weigh %.0f kg/m³, and stone weighs 2000 to 2800", d))
	}
	return u, nil
}

// concrete is its density in kg/m³ where a block is solid (EN 1991-1-1 Table A.1: 24
// kN/m³, less for blocks; 2200, common practice).
const concrete = 2200

// Owning is the catalogue with the units that someone measured, by their names in the
// project; those that cannot be read are left out.
func (c *Catalog) Owning(own map[string]string) *Catalog {
	if len(own) == 0 {
		return c
	}
	with := *c
	with.Units = slices.DeleteFunc(slices.Clone(c.Units), func(u Unit) bool { _, mine := own[u.ID]; return mine })
	for _, id := range slices.Sorted(maps.Keys(own)) {
		if u, err := ParseUnit(own[id], c.System); err == nil {
			u.ID = id
			with.Units = append(with.Units, u)
		}
	}
	return &with
}
