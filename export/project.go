// Package export writes plans to open formats and reads designs and cut
// requests from them. What cannot be read is refused with the field and the
// reason; nothing is guessed.
package export

import (
	"bytes"
	"cmp"
	_ "embed"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strings"
	"sync"

	"github.com/santhosh-tekuri/jsonschema/v6"
	"golang.org/x/text/language"
	"golang.org/x/text/message"

	"chamfer/core/catalog"
	"chamfer/core/cutting"
	"chamfer/core/design"
	"chamfer/core/measure"
	"chamfer/core/plan"
	"chamfer/core/record"
)

// Schema is the JSON Schema of a design file.
//
//go:embed chamfer-1.schema.json
var Schema []byte

// RegionSchema is the JSON Schema of the file of a region.
//
//go:embed chamfer-region-1.schema.json
var RegionSchema []byte

// MaxFile is the largest design file read, in bytes.
const MaxFile = 4 << 20

// ErrTooLarge says a file is over [MaxFile].
var ErrTooLarge = errors.New("the file is over 4 MB; a design is a few kilobytes")

var schema = sync.OnceValues(func() (*jsonschema.Schema, error) {
	doc, err := jsonschema.UnmarshalJSON(bytes.NewReader(Schema))
	if err != nil {
		return nil, err
	}
	c := jsonschema.NewCompiler()
	if err := c.AddResource("urn:chamfer:design:1", doc); err != nil {
		return nil, err
	}
	return c.Compile("urn:chamfer:design:1")
})

// Project is a project's file: its design, and what else its plan needs, so that it
// plans everywhere as it does where it comes from.
type Project struct {
	Design design.Design
	Shed   []catalog.Leftover // boards it counts on; they keep their numbers
	Habits *catalog.Habits    // of the workshop; nil for the region's usual ones
	Found  []cutting.Found    // what longer searches for a way to cut came to
	Took   []record.Taking    // what its steps took, as it was written down
	Goods  []record.Good      // what became of what was bought
	Sizes  []record.Size      // as they were measured
	Photos []record.Photo
}

// Boards is how many boards of a shed it counts on.
func (p Project) Boards() int {
	n := 0
	for _, l := range p.Shed {
		n += l.Quantity
	}
	return n
}

// Shop is what there is to build the project with.
func (p Project) Shop() (plan.Shop, error) {
	shop, err := plan.ShopFor(p.Design.Region)
	if p.Habits != nil {
		shop.Habits = *p.Habits
	}
	shop.Shed, shop.Found = p.Shed, p.Found
	return shop, err
}

// projectFile is the form of a [Project] in its file.
type projectFile struct {
	design.Design
	Shed   []shedBoard     `json:"shed,omitempty"`
	Habits *catalog.Habits `json:"habits,omitempty"`
	Found  [][]byte        `json:"found,omitempty"`
	Took   []record.Taking `json:"took,omitempty"`
	Goods  []record.Good   `json:"goods,omitempty"`
	Sizes  []record.Size   `json:"sizes,omitempty"`
	Photos []record.Photo  `json:"photos,omitempty"`
}

// shedBoard is boards of one kind in a file.
type shedBoard struct {
	ID        int64          `json:"id"`
	Profile   string         `json:"profile"`
	Species   string         `json:"species"`
	Length    measure.Length `json:"length"`
	Width     measure.Length `json:"width"`
	Quantity  int            `json:"quantity"`
	TrimStart measure.Length `json:"trim_start"`
	TrimEnd   measure.Length `json:"trim_end"`
	BadFrom   measure.Length `json:"bad_from"`
	BadTo     measure.Length `json:"bad_to"`
	Note      string         `json:"note,omitempty"`
}

// Encode writes the project's file, indented, ending in a newline.
func (p Project) Encode() ([]byte, error) {
	f := projectFile{Design: p.Design, Habits: p.Habits, Took: p.Took, Goods: p.Goods, Sizes: p.Sizes,
		Photos: p.Photos}
	for _, l := range p.Shed {
		f.Shed = append(f.Shed, shedBoard(l))
	}
	for _, found := range p.Found {
		raw, err := found.MarshalBinary()
		if err != nil {
			return nil, fmt.Errorf("encode project: %w", err)
		}
		f.Found = append(f.Found, raw)
	}
	raw, err := json.MarshalIndent(f, "", "  ")
	if err != nil {
		return nil, fmt.Errorf("encode project: %w", err)
	}
	return append(raw, '\n'), nil
}

// bom is the mark that some programs put in front of what they save as UTF-8.
var bom = []byte("\ufeff")

// ReadDesign reads the design of a project's file, as [ReadProject] does.
func ReadDesign(raw []byte) (design.Design, error) {
	p, err := ReadProject(raw)
	return p.Design, err
}

// ReadProject reads a project's file: JSON, then the schema, then the rules of the
// trade. Errors name the field and the reason.
func ReadProject(raw []byte) (Project, error) {
	var p Project
	if len(raw) > MaxFile {
		return p, ErrTooLarge
	}
	raw = bytes.TrimPrefix(raw, bom)
	doc, err := jsonschema.UnmarshalJSON(bytes.NewReader(raw))
	if err != nil {
		return p, fmt.Errorf("this is not JSON: %w", err)
	}
	if top, ok := doc.(map[string]any); ok {
		if f, ok := top["format"].(string); ok && f != design.Format {
			return p, fmt.Errorf("format: this file says %q; this version reads %q", f, design.Format)
		}
	}
	s, err := schema()
	if err != nil {
		return p, fmt.Errorf("schema: %w", err)
	}
	if err := s.Validate(doc); err != nil {
		return p, first(err)
	}
	var f projectFile
	if err := json.Unmarshal(raw, &f); err != nil {
		return p, fmt.Errorf("a length or price: %w", err)
	}
	p.Design, p.Habits, p.Took = f.Design, f.Habits, f.Took
	p.Goods, p.Sizes, p.Photos = f.Goods, f.Sizes, f.Photos
	p.Design.Complete()
	cat, err := catalog.ForRegion(p.Design.Region)
	if err != nil {
		return p, err
	}
	cat = p.Design.Catalog(cat)
	for i, l := range f.Shed {
		left := catalog.Leftover(l)
		if err := cat.CheckLeftover(left); err != nil {
			return p, fmt.Errorf("shed.%d: %w", i, err)
		}
		p.Shed = append(p.Shed, left)
	}
	if p.Habits != nil {
		if err := p.Habits.Check(); err != nil {
			return p, fmt.Errorf("habits: %w", err)
		}
	}
	for i, raw := range f.Found {
		var found cutting.Found
		if err := found.UnmarshalBinary(raw); err != nil {
			return p, fmt.Errorf("found.%d: %w", i, err)
		}
		p.Found = append(p.Found, found)
	}
	return p, design.Check(p.Design, cat)
}

// first finds the deepest faults of a schema check and writes the first of them, by
// place in the file, as field and reason: the same one every time.
func first(err error) error {
	var v *jsonschema.ValidationError
	if !errors.As(err, &v) {
		return err
	}
	printer := message.NewPrinter(language.English)
	var faults []string
	var walk func(*jsonschema.ValidationError)
	walk = func(v *jsonschema.ValidationError) {
		for _, c := range v.Causes {
			walk(c)
		}
		if len(v.Causes) == 0 {
			where := cmp.Or(strings.Join(v.InstanceLocation, "."), "the file")
			faults = append(faults, fmt.Sprintf("%s: %s", where, v.ErrorKind.LocalizedString(printer)))
		}
	}
	walk(v)
	slices.Sort(faults)
	return errors.New(faults[0])
}
