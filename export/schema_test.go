package export_test

import (
	"bytes"
	"encoding/json"
	"flag"
	"os"
	"reflect"
	"slices"
	"strings"
	"testing"

	"github.com/santhosh-tekuri/jsonschema/v6"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/money"
	"chamfer/core/plan"
	"chamfer/export"
	"chamfer/long"
)

var update = flag.Bool("update", false, "write the schema anew")

// described is a Go type as a JSON Schema says it.
func described(t reflect.Type) map[string]any {
	switch {
	case t == reflect.TypeOf(design.Design{}):
		return map[string]any{"$ref": "chamfer-1.schema.json#/$defs/design"}
	case t == reflect.TypeOf(money.Amount(0)):
		return map[string]any{"type": "string", "pattern": `^-?\d+\.\d\d$`}
	case t == reflect.TypeOf(json.RawMessage{}):
		return map[string]any{}
	}
	switch t.Kind() {
	case reflect.Pointer:
		return described(t.Elem())
	case reflect.String:
		return map[string]any{"type": "string"}
	case reflect.Bool:
		return map[string]any{"type": "boolean"}
	case reflect.Int:
		return map[string]any{"type": "integer"}
	case reflect.Float64:
		return map[string]any{"type": "number"}
	case reflect.Array:
		return map[string]any{"type": "array", "items": described(t.Elem()), "minItems": t.Len(), "maxItems": t.Len()}
	case reflect.Slice:
		return map[string]any{"type": []any{"array", "null"}, "items": described(t.Elem())}
	}
	fields, needed := map[string]any{}, []any{}
	for i := range t.NumField() {
		key, options, _ := strings.Cut(t.Field(i).Tag.Get("json"), ",")
		if key == "" || key == "-" {
			continue
		}
		fields[key] = described(t.Field(i).Type)
		if !strings.Contains(options, "omitempty") {
			needed = append(needed, key)
		}
	}
	return map[string]any{"type": "object", "properties": fields, "required": needed, "additionalProperties": false}
}

// The schema that is published is that of the types, and every example's plan keeps to it.
func TestPlanSchema(t *testing.T) {
	schema := described(reflect.TypeOf(export.PlanFile{}))
	schema["$schema"] = "https://json-schema.org/draft/2020-12/schema"
	schema["title"] = "A plan of Chamfer, " + export.PlanFormat
	schema["properties"].(map[string]any)["design"] = map[string]any{"type": "object"} // chamfer-1.schema.json has it
	var want bytes.Buffer
	e := json.NewEncoder(&want)
	e.SetIndent("", " ")
	e.SetEscapeHTML(false)
	if err := e.Encode(schema); err != nil {
		t.Fatal(err)
	}
	const file = "chamfer-plan-1.schema.json"
	if *update {
		if err := os.WriteFile(file, want.Bytes(), 0o644); err != nil {
			t.Fatal(err)
		}
	}
	got, err := os.ReadFile(file)
	if err != nil || !bytes.Equal(got, want.Bytes()) {
		t.Fatalf("%s is not what the types say (%v): go test ./export -run PlanSchema -update", file, err)
	}
	doc, err := jsonschema.UnmarshalJSON(bytes.NewReader(got))
	if err != nil {
		t.Fatal(err)
	}
	c := jsonschema.NewCompiler()
	if err := c.AddResource(file, doc); err != nil {
		t.Fatal(err)
	}
	compiled, err := c.Compile(file)
	if err != nil {
		t.Fatal(err)
	}
	for _, region := range []string{"us", "metric"} {
		shop, err := plan.ShopFor(region)
		if err != nil {
			t.Fatal(err)
		}
		for _, x := range design.Examples() {
			d, err := design.ExampleNamed(x.Name, shop.Catalog)
			if err != nil {
				t.Fatal(err)
			}
			p, err := plan.Make(d, shop)
			if err != nil {
				t.Fatal(err)
			}
			var raw bytes.Buffer
			if err := export.WritePlan(&raw, p); err != nil {
				t.Fatal(err)
			}
			instance, err := jsonschema.UnmarshalJSON(&raw)
			if err != nil {
				t.Fatal(err)
			}
			if err := compiled.Validate(instance); err != nil {
				t.Errorf("%s %s: %v", region, x.Name, err)
			}
		}
	}
}

// Every format is described in docs/format.md, writes something of every example, and does
// so twice alike.
func TestFormats(t *testing.T) {
	doc, err := os.ReadFile("../docs/format.md")
	if err != nil {
		t.Fatal(err)
	}
	shop, err := plan.ShopFor("us")
	if err != nil {
		t.Fatal(err)
	}
	var names []string
	for i, f := range export.Formats() {
		if slices.Contains(names, f.Name) {
			t.Errorf("two formats are called %s", f.Name)
		}
		names = append(names, f.Name)
		if !strings.Contains(string(doc), "| `"+f.Name+"` | "+f.About+" |") {
			t.Errorf("docs/format.md has no row | `%s` | %s |", f.Name, f.About)
		}
		for k, x := range design.Examples() {
			if !long.Whole() && (i+k)%3 > 0 { // by turns
				continue
			}
			d, err := design.ExampleNamed(x.Name, shop.Catalog)
			if err != nil {
				t.Fatal(err)
			}
			p, err := plan.Make(d, shop)
			if err != nil {
				t.Fatal(err)
			}
			var once, again bytes.Buffer
			if err := f.Write(&once, p, export.Asked{}); err != nil {
				t.Fatal(err)
			}
			err = f.Write(&again, p, export.Asked{})
			if err != nil || once.Len() == 0 || !bytes.Equal(once.Bytes(), again.Bytes()) {
				t.Errorf("%s of %s: %d bytes, then %d: %v", f.Name, x.Name, once.Len(), again.Len(), err)
			}
		}
	}
}

// A region as it is written is what its schema says, and has nothing that the schema does not know; what the schema
// refuses is refused when it is read, too.
func TestRegionSchema(t *testing.T) {
	c := jsonschema.NewCompiler()
	doc, err := jsonschema.UnmarshalJSON(bytes.NewReader(export.RegionSchema))
	if err == nil {
		err = c.AddResource("chamfer-region-1.schema.json", doc)
	}
	if err != nil {
		t.Fatal(err)
	}
	s, err := c.Compile("chamfer-region-1.schema.json")
	if err != nil {
		t.Fatal(err)
	}
	for _, like := range []string{"us", "metric"} {
		raw, err := catalog.WriteRegion(like, "lane", "The lane")
		if err != nil {
			t.Fatal(err)
		}
		holds := func(text string) error {
			v, err := jsonschema.UnmarshalJSON(strings.NewReader(text))
			if err != nil {
				return err
			}
			return s.Validate(v)
		}
		if err := holds(string(raw)); err != nil {
			t.Error(like, err)
		}
		for from, to := range map[string]string{`"id": "lane"`: `"id": "The lane"`, `"format": "`: `"form": "`,
			`"tables": {`: `"tables": {"cheese": [],`, `"profiles": [`: `"profiles": [{"id": "x"},`} {
			text := strings.Replace(string(raw), from, to, 1)
			if text == string(raw) || holds(text) == nil {
				t.Errorf("%s: %s passes the schema", like, to)
			}
			if _, err := catalog.ReadRegion([]byte(text)); err == nil {
				t.Errorf("%s: %s is read", like, to)
			}
		}
	}
}
