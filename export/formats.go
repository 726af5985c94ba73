package export

import (
	"html/template"
	"io"
	"strings"

	"chamfer/core/design"
	"chamfer/core/plan"
	"chamfer/core/planting"
	"chamfer/draw"
)

// Format is one open form in which a plan is written: a file of a project, by its name.
type Format struct {
	Name  string // cut-list.csv
	Media string // its media type
	About string // what it is, in a line
	Write func(w io.Writer, p *plan.Plan, a Asked) error
}

// Asked is what may be asked of a form besides the plan.
type Asked struct {
	Bed  string // of a drawing; "" for the first
	Pack        // how paper is printed
	Year int    // of what grows; 0 for the one that the sun is reckoned for
	Ends string // what names in a calendar end with, "" for those of a file by itself
}

// Formats lists the forms there are; pages, the command line and docs/format.md follow from
// it. A drawing is of one bed, the first where none is named.
func Formats() []Format {
	plain := func(write func(io.Writer, *plan.Plan) error) func(io.Writer, *plan.Plan, Asked) error {
		return func(w io.Writer, p *plan.Plan, _ Asked) error { return write(w, p) }
	}
	list := []Format{
		{"plan.json", "application/json", "everything that follows from a project", plain(WritePlan)},
		{"cut-list.csv", "text/csv; charset=utf-8", "every piece, and the board it comes from", plain(WriteCutList)},
		{"shopping-list.csv", "text/csv; charset=utf-8", "what is bought, and for how much", plain(WriteShopping)},
		{"build-sheet.html", "text/html; charset=utf-8", "the steps to tick, in one file that needs no network",
			plain(WriteBuildSheet)},
		{"readings.csv", "text/csv; charset=utf-8", "the levels of the ground as they were read", plain(writeReadings)},
		{"plot.svg", "image/svg+xml", "the plot from above", func(w io.Writer, p *plan.Plan, _ Asked) error {
			return writeDrawing(w, p, draw.Plot(p, onPaper))
		}},
	}
	list = append(list, Format{"pack.pdf", "application/pdf", "all of it on paper: to buy, cut, set out, drill, do",
		func(w io.Writer, p *plan.Plan, a Asked) error { return WritePack(w, p, a.Pack) }})
	list = append(list, Format{"ground.svg", "image/svg+xml", "the ground from above, and a section through it",
		func(w io.Writer, p *plan.Plan, a Asked) error {
			return writeDrawing(w, p, draw.Ground(p, onPaper, draw.CutLine(p, a.Bed)))
		}})
	list = append(list, Format{"fill.svg", "image/svg+xml", "a bed cut through, with its layers",
		func(w io.Writer, p *plan.Plan, a Asked) error {
			return writeDrawing(w, p, draw.Fill(p, a.bedOf(p), onPaper))
		}})
	list = append(list,
		Format{"water.svg", "image/svg+xml", "the pipes and drip lines, from above",
			func(w io.Writer, p *plan.Plan, _ Asked) error { return writeDrawing(w, p, draw.Water(p, onPaper)) }},
		Format{"watering.ics", "text/calendar; charset=utf-8", "the runs of the drip, as a calendar", plain(writeWatering)})
	list = append(list,
		Format{"plants.svg", "image/svg+xml", "what grows in a bed, from above",
			func(w io.Writer, p *plan.Plan, a Asked) error {
				return writeDrawing(w, p, draw.Plants(p, a.bedOf(p), onPaper))
			}},
		Format{"sun.svg", "image/svg+xml", "the plot in the sun, of an afternoon in midsummer", writeSun},
		Format{"crops.csv", "text/csv; charset=utf-8", "every plant there is, patch by patch", plain(writeCrops)},
		Format{"crop-table.csv", "text/csv; charset=utf-8", "all that is known of every crop, one's own among them",
			func(w io.Writer, p *plan.Plan, _ Asked) error { return planting.WriteCrops(w, p.Crops) }},
		Format{"year.ics", "text/calendar; charset=utf-8", "the year of what grows, as a calendar", writeYear})
	list = append(list,
		Format{"calendar.ics", "text/calendar; charset=utf-8", "the steps, as a calendar", plain(writeCalendar)},
		Format{"calendar.svg", "image/svg+xml", "the steps, as a calendar on a wall",
			func(w io.Writer, p *plan.Plan, _ Asked) error {
				k, err := p.Schedule(nil)
				if err != nil {
					return err
				}
				return writeDrawing(w, p, draw.Calendar(p, k, onPaper))
			}})
	list = append(list, Format{"finish.svg", "image/svg+xml", "a bed as it is brushed",
		func(w io.Writer, p *plan.Plan, a Asked) error {
			return writeDrawing(w, p, draw.Finish(p, a.bedOf(p), onPaper))
		}})
	for _, v := range draw.Views {
		list = append(list, Format{
			Name: "drawing-" + string(v.View) + ".svg", Media: "image/svg+xml", About: "a bed, " + v.Name,
			Write: func(w io.Writer, p *plan.Plan, a Asked) error {
				return writeDrawing(w, p, draw.Bed(p, a.Bed, v.View, onPaper))
			}})
	}
	return list
}

func writeReadings(w io.Writer, p *plan.Plan) error {
	return design.WriteReadings(w, p.Design.GroundOr().Readings, p.Shop.Catalog.System)
}

// FormatNamed is the form whose file has a name, also without what comes after the point; the first where several
// have it.
func FormatNamed(name string) (Format, bool) {
	if long, ok := short[name]; ok {
		name = long
	}
	for _, f := range Formats() {
		if bare, _, _ := strings.Cut(f.Name, "."); f.Name == name || bare == name {
			return f, true
		}
	}
	return Format{}, false
}

// short names of forms.
var short = map[string]string{"shopping": "shopping-list.csv", "drawing": "drawing-above.svg"}

func (a Asked) bedOf(p *plan.Plan) string {
	if a.Bed == "" {
		return p.Design.Beds[0].ID
	}
	return a.Bed
}

// onPaper is a drawing that stands by itself.
var onPaper = draw.Sheet{W: 1120, H: 790, Font: 20, Own: true}

func writeDrawing(w io.Writer, p *plan.Plan, drawing string) error {
	_, err := w.Write(p.Shop.Speech().Markup([]byte(drawing), InMarkup(p)...))
	return err
}

// InMarkup are the names that people gave in a plan, as they stand in markup.
func InMarkup(p *plan.Plan) []string {
	var list []string
	for _, name := range p.Names() {
		escaped := template.HTMLEscapeString(name)
		list = append(list, escaped)
		if strings.Contains(escaped, "+") { // pages write it so, drawings do not
			list = append(list, strings.ReplaceAll(escaped, "+", "&#43;"))
		}
	}
	return list
}
