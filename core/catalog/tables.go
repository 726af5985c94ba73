package catalog

import (
	"cmp"
	"encoding/csv"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"chamfer/core/measure"
	"chamfer/core/money"
)

func load() ([]*Catalog, error) {
	raw, err := data.ReadFile("data/regions.json")
	if err != nil {
		return nil, err
	}
	var list []*Catalog
	if err := json.Unmarshal(raw, &list); err != nil {
		return nil, fmt.Errorf("regions.json: %w", err)
	}
	t := &tables{byID: map[string]*Catalog{}, rows: embedded}
	for _, c := range list {
		t.byID[c.ID] = c
	}
	t.all()
	for _, c := range list {
		c.sorted()
	}
	return list, errors.Join(t.errs...)
}

// sorted puts boards and fixings in the order of their lengths.
func (c *Catalog) sorted() {
	slices.SortStableFunc(c.Offers, func(a, b Offer) int { return cmp.Compare(a.Length, b.Length) })
	slices.SortStableFunc(c.Fixings, func(a, b Fixing) int { return cmp.Compare(a.Length, b.Length) })
}

// all reads every table.
func (t *tables) all() {
	t.each("profiles.csv", func(c *Catalog, r row) {
		p := Profile{
			ID: r.text("id"), Name: r.text("name"), Kind: ProfileKind(r.text("kind")),
			Thickness: r.length("thickness"), Width: r.length("width"), Source: r.text("source"),
		}
		if r.text("ear") != "" {
			p.Ear = r.length("ear")
		}
		p.Actual = c.Precision(c.Habits).Short(p.Thickness) + " × " + c.Precision(c.Habits).Short(p.Width)
		c.Profiles = append(c.Profiles, p)
	})
	t.each("species.csv", func(c *Catalog, r row) {
		c.Species = append(c.Species, Species{
			ID: r.text("id"), Name: r.text("name"), Treated: r.text("treated") == "yes",
			LifeMin: int(r.number("life_min")), LifeMax: int(r.number("life_max")), Source: r.text("source"),
			Method: r.text("method"), E: r.number("e"), Density: r.number("density"),
			Shear: r.number("shear"), Crush: r.number("crush"),
		})
		if r.text("gravity") != "" {
			c.Species[len(c.Species)-1].Gravity = r.number("gravity")
		}
	})
	t.each("bending.csv", func(c *Catalog, r row) {
		i := slices.IndexFunc(c.Species, func(s Species) bool { return s.ID == r.text("species") })
		if i < 0 {
			r.fail("species", ErrNotSold)
			return
		}
		c.Species[i].Bending = append(c.Species[i].Bending, Bending{
			WidthTo: r.length("width_to"), Strength: r.number("strength"),
			SizeFactor: r.number("size_factor"), FlatFactor: r.number("flat_factor"), Source: r.text("source"),
		})
	})
	t.each("timber_prices.csv", func(c *Catalog, r row) {
		o := Offer{
			Profile: r.text("profile"), Species: r.text("species"), Length: r.length("length"),
			Price: r.amount("price"), Source: r.text("source"),
		}
		o.Label = shopLength(o.Length)
		o.SKU = o.Profile + "/" + o.Species + "/" + o.Label
		c.Offers = append(c.Offers, o)
	})
	t.each("fixings.csv", func(c *Catalog, r row) {
		pack := Pack{Count: int(r.number("pack")), Price: r.amount("price")}
		pack.SKU = r.text("id") + "/" + strconv.Itoa(pack.Count)
		i := slices.IndexFunc(c.Fixings, func(f Fixing) bool { return f.ID == r.text("id") })
		if i >= 0 {
			c.Fixings[i].Packs = append(c.Fixings[i].Packs, pack)
			return
		}
		c.Fixings = append(c.Fixings, Fixing{
			ID: r.text("id"), Name: r.text("name"), Kind: FixingKind(r.text("kind")), Gauge: r.text("gauge"),
			Diameter: r.length("diameter"), Root: r.length("root"), Length: r.length("length"),
			Packs: []Pack{pack}, Source: r.text("source"),
		})
	})
	t.each("sheets.csv", func(c *Catalog, r row) {
		c.Sheets = append(c.Sheets, Sheet{
			ID: r.text("id"), Name: r.text("name"), RollWidth: r.length("roll_width"),
			RollLength: r.length(
				"roll_length",
			), Lap: r.length("lap"), Price: r.amount("price"), Source: r.text("source"),
		})
	})
	t.each("fittings.csv", func(c *Catalog, r row) {
		f := Fitting{
			ID:     r.text("id"),
			Name:   r.text("name"),
			Pack:   int(r.number("pack")),
			Price:  r.amount("price"),
			Source: r.text("source"),
		}
		if r.text("each") != "" {
			f.Each = r.length("each")
		}
		if r.text("height") != "" {
			f.Height = r.length("height")
		}
		if r.text("load") != "" {
			f.Load = r.number("load")
		}
		c.Fittings = append(c.Fittings, f)
	})
	t.each("fills.csv", func(c *Catalog, r row) {
		f := Fill{
			ID: r.text("id"), Of: r.text("of"), Name: r.text("name"), Kind: FillKind(r.text("kind")),
			Pack:  r.volume("pack"),
			Price: r.amount("price"), Delivery: r.amount("delivery"), WetDensity: r.number("wet_density"),
			Source: r.text("source"), PackLabel: r.text("pack"),
		}
		if r.text("least") != "" {
			f.Least, f.Most = r.volume("least"), r.volume("most")
		}
		c.Fills = append(c.Fills, f)
	})
	t.each("materials.csv", func(c *Catalog, r row) {
		c.Materials = append(c.Materials, Material{ID: r.text("id"), Name: r.text("name"), Kind: r.text("kind"),
			Wet: r.number("wet_density"), Settles: int(r.number("settles")), Repose: r.number("repose"),
			Source: r.text("source")})
	})
	t.each("finishes.csv", func(c *Catalog, r row) {
		c.Finishes = append(c.Finishes, Finish{ID: r.text("id"), Of: r.text("of"), Name: r.text("name"),
			Kind: r.text("kind"), Tin: r.volume("tin"), Price: r.amount("price"), First: r.number("first"),
			Later: r.number("later"), Coats: int(r.number("coats")), Wait: int(r.number("wait")),
			Cure: int(r.number("cure")), Again: int(r.number("again")), Rags: r.text("rags") == "yes",
			Source: r.text("source")})
	})
	t.each("boosters.csv", func(c *Catalog, r row) {
		c.Boosters = append(c.Boosters, Booster{ID: r.text("id"), Name: r.text("name"), Unit: r.text("unit"),
			Rate: r.number("rate"), Pack: int(r.number("pack")), Price: r.amount("price"), Source: r.text("source")})
	})
	t.masonry()
}

// tables reads the CSV files row by row and gathers every fault, so that a
// broken file is mended in one go.
type tables struct {
	byID map[string]*Catalog
	rows func(file string) ([]cells, error)
	over bool // a row takes the place of what is called the same
	errs []error
}

// cells are those of a row by their columns, with where it stands.
type cells struct {
	where string
	by    map[string]string
}

type row struct {
	t     *tables
	where string
	cells map[string]string
}

// embedded are the rows of a file that ships with the program.
func embedded(file string) (list []cells, err error) {
	f, err := data.Open("data/" + file)
	if err != nil {
		return nil, err
	}
	defer f.Close()
	lines, err := csv.NewReader(f).ReadAll()
	if err != nil {
		return nil, fmt.Errorf("%s: %w", file, err)
	}
	for n, line := range lines[1:] {
		c := cells{where: fmt.Sprintf("%s line %d", file, n+2), by: map[string]string{}}
		for i, head := range lines[0] {
			c.by[head] = line[i]
		}
		list = append(list, c)
	}
	return list, nil
}

func (t *tables) each(file string, use func(*Catalog, row)) {
	list, err := t.rows(file)
	if err != nil {
		t.errs = append(t.errs, err)
		return
	}
	gone := map[string]bool{}
	for _, x := range list {
		r := row{t: t, where: x.where, cells: x.by}
		c, ok := t.byID[r.text("region")]
		if !ok {
			r.fail("region", errors.New("unknown region"))
			continue
		}
		if r.text("source") == "" {
			r.fail("source", errors.New("a value needs its source"))
		}
		if t.over {
			c.giveWay(file, r, gone)
		}
		use(c, r)
	}
}

func (r row) fail(column string, err error) {
	r.t.errs = append(r.t.errs, fmt.Errorf("%s, %s: %w", r.where, column, err))
}

func (r row) text(column string) string { return r.cells[column] }

func (r row) length(column string) measure.Length {
	l, err := measure.Parse(r.cells[column], measure.Metric)
	if err != nil {
		r.fail(column, err)
	}
	return l
}

func (r row) number(column string) float64 {
	n, err := strconv.ParseFloat(r.cells[column], 64)
	if err != nil {
		r.fail(column, err)
	}
	return n
}

func (r row) amount(column string) money.Amount {
	a, err := money.Parse(r.cells[column])
	if err != nil {
		r.fail(column, err)
	}
	return a
}

// volume reads "1.5 ft3", "0.5 yd3", "50 l" or "0.25 m3".
func (r row) volume(column string) measure.Volume {
	number, unit, _ := strings.Cut(r.cells[column], " ")
	n, err := strconv.ParseFloat(number, 64)
	if err != nil {
		r.fail(column, err)
		return 0
	}
	switch unit {
	case "ft3":
		return measure.CubicFeet(n)
	case "yd3":
		return measure.CubicFeet(27 * n)
	case "l":
		return measure.CubicMetres(n / 1000)
	case "m3":
		return measure.CubicMetres(n)
	}
	r.fail(column, fmt.Errorf("unknown unit %q", unit))
	return 0
}
