package web

import (
	"bytes"
	"context"
	"fmt"
	"html/template"
	"io/fs"
	"slices"
	"strings"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/measure"
	"chamfer/core/sources"
)

// stage is one stage of a job: what its page is called and about, which drawing it shows,
// and what else is on it. Its template is stage-KEY; each has a file of its own, here and
// there. Digits, links, the list of keys and the phone's path follow from the order.
type stage struct {
	Key, Name, About string
	Draws            func(b *benchPage, no refused) // what stands beside its decisions; nil for none
	Decides          bool                           // findings are mended here; others only tell of them
	Tells            []string                       // findings told here besides those whose remedy is decided here
	Fields           func(b *benchPage, no refused) // decisions that are not a bed's; nil for none
	Body             func(ctx context.Context, s *Server, b *benchPage, no refused) (any, error)
	Under            string // the template below its drawing; "" where a dimension is in hand there
	Caption, Saves   string // what the drawing is called then, and its file
	Shows            string // what begins so and is refused is told at its place here
}

// stages of a job in the order of work.
var stages = []stage{
	siteStage, sunStage, bedStage, frameStage, cutsStage, fixingsStage, groundStage, fillStage, waterStage,
	plantsStage, finishStage, billStage, shopStage, calendarStage, buildStage, logStage,
}

// stageNamed is the stage with a key.
func stageNamed(key string) (stage, bool) {
	i := slices.IndexFunc(stages, func(s stage) bool { return s.Key == key })
	if i < 0 {
		return stage{}, false
	}
	return stages[i], true
}

// keyed are the stages that keys go to, in their order: there are ten digits, and those of building come before those
// of what grows.
func keyed() (list []stage) {
	for _, st := range stages {
		if st.Key != sunStage.Key && st.Key != plantsStage.Key {
			list = append(list, st)
		}
	}
	return list
}

// digit is the key that goes to a stage, "" for none.
func digit(key string) string {
	place := slices.IndexFunc(keyed(), func(st stage) bool { return st.Key == key })
	if place < 0 || place > 9 {
		return ""
	}
	return fmt.Sprint((place + 1) % 10)
}

// unplaced finds a decision whose stage there is not, on a bed of any system in any region.
func unplaced() error {
	for _, cat := range catalog.Regions() {
		for _, system := range design.Systems() {
			edit := design.Edit{Bed: "b1", Field: "system", Value: system.Name}
			d, err := design.Apply(design.New(cat, system.Title), cat, edit)
			if err != nil {
				return err
			}
			for _, f := range design.FieldsOf(d.Beds[0]) {
				if _, ok := stageNamed(string(f.Stage)); !ok {
					return fmt.Errorf("%s is decided on stage %q, which there is not", f.Key, f.Stage)
				}
			}
		}
	}
	return nil
}

// parsePages reads the templates. A page includes its stage's by name, since which one that
// is follows from the list.
func parsePages(files fs.FS) (*template.Template, error) {
	var pages *template.Template
	funcs := template.FuncMap{
		"join":  strings.Join,
		"said":  sources.Said,
		"count": measure.Count,
		"add":   func(a, b int) int { return a + b },
		"dict": func(pairs ...any) map[string]any {
			d := map[string]any{}
			for i := 0; i+1 < len(pairs); i += 2 {
				d[fmt.Sprint(pairs[i])] = pairs[i+1]
			}
			return d
		},
		"include": func(name string, data any) (template.HTML, error) {
			var b bytes.Buffer
			err := pages.ExecuteTemplate(&b, name, data)
			return template.HTML(b.String()), err
		},
	}
	var err error
	if pages, err = template.New("").Funcs(funcs).ParseFS(files, "templates/*.html"); err != nil {
		return nil, fmt.Errorf("templates: %w", err)
	}
	for _, st := range stages {
		if pages.Lookup("stage-"+st.Key) == nil {
			return nil, fmt.Errorf("templates: stage %s has none", st.Key)
		}
	}
	return pages, nil
}
