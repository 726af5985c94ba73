// Package export writes plans to open formats and reads designs and cut
// requests from them. What cannot be read is refused with the field and the
// reason; nothing is guessed.
package export

import (
	"bytes"
	_ "embed"
	"encoding/json"
	"errors"
	"fmt"
	"strings"
	"sync"

	"github.com/santhosh-tekuri/jsonschema/v6"
	"golang.org/x/text/language"
	"golang.org/x/text/message"

	"chamfer/core/catalog"
	"chamfer/core/design"
)

// Schema is the JSON Schema of a design file.
//
//go:embed chamfer-1.schema.json
var Schema []byte

// MaxFile is the largest design file read, in bytes.
const MaxFile = 2 << 20

// ErrTooLarge says a file is over [MaxFile].
var ErrTooLarge = errors.New("the file is over 2 MB; a design is a few kilobytes")

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

// ReadDesign reads a design file: JSON, then the schema, then the rules of the
// trade. Errors name the field and the reason.
func ReadDesign(raw []byte) (design.Design, error) {
	var d design.Design
	if len(raw) > MaxFile {
		return d, ErrTooLarge
	}
	doc, err := jsonschema.UnmarshalJSON(bytes.NewReader(raw))
	if err != nil {
		return d, fmt.Errorf("this is not JSON: %w", err)
	}
	if top, ok := doc.(map[string]any); ok {
		if f, ok := top["format"].(string); ok && f != design.Format {
			return d, fmt.Errorf("format: this file says %q; this version reads %q", f, design.Format)
		}
	}
	s, err := schema()
	if err != nil {
		return d, fmt.Errorf("schema: %w", err)
	}
	if err := s.Validate(doc); err != nil {
		return d, first(err)
	}
	if err := json.Unmarshal(raw, &d); err != nil {
		return d, fmt.Errorf("a length or price: %w", err)
	}
	d.Complete()
	cat, err := catalog.ForRegion(d.Region)
	if err != nil {
		return d, err
	}
	return d, design.Check(d, cat)
}

// first finds the deepest single fault of a schema check and writes it as
// field and reason.
func first(err error) error {
	var v *jsonschema.ValidationError
	if !errors.As(err, &v) {
		return err
	}
	for len(v.Causes) > 0 {
		v = v.Causes[0]
	}
	where := strings.Join(v.InstanceLocation, ".")
	if where == "" {
		where = "the file"
	}
	return fmt.Errorf("%s: %s", where, v.ErrorKind.LocalizedString(message.NewPrinter(language.English)))
}
