package export

import (
	"encoding/csv"
	"fmt"
	"io"
	"math"
	"slices"
	"strconv"
	"strings"

	"chamfer/core/fixing"
	"chamfer/core/frame"
	"chamfer/core/measure"
	"chamfer/core/plan"
	"chamfer/core/sources"
	"chamfer/core/strength"
)

// m is a JSON object whose keys are stable (docs/format.md); encoding/json
// writes them sorted, so the same plan gives the same bytes.
type m = map[string]any

// WritePlan writes a whole plan as JSON.
func WritePlan(w io.Writer, p *plan.Plan) error {
	out := m{"format": "chamfer-plan/1", "design": p.Design}
	units := []m{}
	parts, joints, sheets, cavities := []m{}, []m{}, []m{}, []m{}
	for i := range p.Frames {
		f := &p.Frames[i]
		for _, part := range f.Parts {
			parts = append(parts, partJSON(part, f.Times))
		}
		for _, u := range f.Units {
			units = append(units, unitJSON(u, f.Times))
		}
		for _, j := range f.Joints {
			joints = append(
				joints,
				m{"id": j.ID, "kind": j.Kind, "bed": f.Bed, "parts": j.Parts, "at_mm": place(j.At), "load": j.Load,
					"through_mm": j.Through.Millimetres(), "into_mm": j.Into.Millimetres(),
					"run_mm": j.Run.Millimetres()},
			)
		}
		for _, s := range f.Sheets {
			sheets = append(sheets, m{"id": s.ID, "bed": s.Bed, "material": s.Material, "place": s.Place,
				"length_mm": s.Length.Millimetres(), "width_mm": s.Width.Millimetres(),
				"turn_up_mm": s.TurnUp.Millimetres()})
		}
		for _, c := range f.Cavities {
			outline := [][2]float64{}
			for _, s := range c.Outline {
				outline = append(outline, [2]float64{s.U.Millimetres(), s.V.Millimetres()})
			}
			cavities = append(
				cavities,
				m{"id": c.ID, "bed": c.Bed, "outline_mm": outline, "bottom_mm": c.Bottom.Millimetres(),
					"top_mm": c.Top.Millimetres(), "volume_m3": c.Net().CubicMetres(),
					"gross_m3": c.Gross().CubicMetres()},
			)
		}
	}
	out["units"] = units
	out["parts"], out["joints"], out["sheets"], out["cavities"] = parts, joints, sheets, cavities
	cuts := []m{}
	for _, c := range p.Cuts {
		cuts = append(
			cuts,
			m{"profile": c.Profile.ID, "species": c.Species.ID, "answer": Answer(c.Answer, p.Shop.Catalog.System)},
		)
	}
	out["cuts"] = cuts
	shopping := []m{}
	for _, l := range p.Bill.Lines {
		shopping = append(
			shopping,
			m{
				"group":    l.Group,
				"sku":      l.SKU,
				"item":     p.Say(l.Item),
				"quantity": l.Quantity,
				"unit":     l.Unit,
				"price":    l.Price,
				"amount":   l.Amount,
				"why":      p.Say(l.Why),
			},
		)
	}
	out["shopping"] = shopping
	fixings := []m{}
	for _, n := range p.Fixings.Needs {
		fixings = append(
			fixings,
			m{"fixing": n.Fixing.ID, "name": n.Fixing.Name, "length_mm": n.Fixing.Length.Millimetres(),
				"count": n.Count, "buy": n.Buy, "pilot_mm": n.Pilot.Millimetres(), "why": p.Say(n.Words()),
				"source": sources.Said(fixing.Source)},
		)
	}
	out["fixings"] = fixings
	holes := []m{}
	for _, h := range p.Ground.Holes {
		holes = append(holes, m{"depth_mm": h.Depth.Millimetres(), "count": h.Count})
	}
	loose := []m{}
	for _, h := range p.Laying.Heaps {
		loose = append(
			loose,
			m{
				"item":      h.Loose.ID,
				"kind":      h.Loose.Kind,
				"volume_m3": h.Volume.CubicMetres(),
				"mass_kg":   float64(h.Mass),
				"packs":     h.Packs,
			},
		)
	}
	out["ground"] = m{
		"footprint_m2": p.Ground.Footprint.SquareMetres(),
		"holes":        holes,
		"trench_m":     p.Laying.Trench.Metres(),
		"dug_m3":       p.Laying.Dug.CubicMetres(),
		"loose":        loose,
	}
	ways := []m{}
	for i, w := range p.Fill.Ways {
		ways = append(
			ways,
			m{
				"fill":     w.Fill.ID,
				"kind":     w.Fill.Kind,
				"packs":    w.Packs,
				"cost":     w.Cost(),
				"chosen":   i == p.Fill.Chosen,
				"cheapest": i == p.Fill.Cheapest,
			},
		)
	}
	out["fill"] = m{"volume_m3": p.Fill.Net.CubicMetres(), "found_m3": p.Fill.Found.CubicMetres(),
		"order_m3": p.Fill.Order.CubicMetres(), "barrows": p.Fill.Barrows,
		"wet_mass_kg": float64(p.Fill.WetMass), "ways": ways}
	best, worst := p.PerYear()
	out["bill"] = m{
		"subtotal":  p.Bill.Subtotal,
		"tax":       p.Bill.Tax,
		"total":     p.Bill.Total,
		"currency":  p.Shop.Currency().Code,
		"per_area":  p.PerArea(),
		"area_unit": p.AreaUnit(),
		"per_year":  []any{best, worst},
		"without":   append([]string{}, p.Bill.Without...),
	}
	findings := []m{}
	for _, f := range p.Findings {
		remedies := []m{}
		for _, r := range f.Remedies {
			edits := []m{}
			for _, e := range r.Edits {
				edits = append(edits, m{"bed": e.Bed, "field": e.Field, "value": e.Value})
			}
			remedies = append(remedies, m{"label": p.Say(r.Label), "edits": edits})
		}
		findings = append(
			findings,
			m{"code": f.Code, "severity": f.Severity, "bed": f.Bed, "parts": f.Parts, "text": p.Say(f.Text),
				"why": p.Say(
					p.Explain(f.Why).String(),
				), "source": sources.Said(f.Why.Source), "kept": f.Kept, "kept_why": f.KeptWhy, "remedies": remedies},
		)
	}
	out["findings"] = findings
	links := []m{}
	for _, l := range p.Links {
		links = append(links, linkJSON(l))
	}
	out["links"] = links
	steps := []m{}
	for _, s := range p.Steps {
		cautions := []m{}
		for _, c := range s.Cautions {
			cautions = append(cautions, m{"text": p.Say(c.Text), "why": p.Say(c.Why)})
		}
		steps = append(steps, m{"id": s.ID, "bed": s.Bed, "title": p.Say(s.Title), "where": p.Say(s.Where),
			"do": saidAll(p, s.Do), "have": saidAll(p, s.Have), "cautions": cautions, "parts": s.New})
	}
	out["steps"] = steps
	return encode(w, out)
}

// linkJSON is one checked link of a load's path; what nothing holds has no ratio.
func linkJSON(l strength.Link) m {
	o := m{
		"bed":      l.Bed,
		"from":     l.From,
		"to":       l.To,
		"kind":     l.Way,
		"path":     l.Path,
		"load_n":   tenths(l.Load),
		"holds_n":  tenths(l.Holds),
		"breaks_n": tenths(l.Breaks),
	}
	if r := l.Ratio(); !math.IsInf(r, 0) {
		o["ratio"] = math.Round(1000*r) / 1000
	}
	if l.Joint != "" {
		o["joint"], o["fixings"] = l.Joint, l.Screws
	}
	return o
}

// tenths rounds to a tenth.
func tenths(v float64) float64 { return math.Round(10*v) / 10 }

func partJSON(p frame.Part, times int) m {
	o := m{
		"id":           p.ID,
		"letter":       p.Letter,
		"role":         p.Role,
		"kind":         p.Kind,
		"bed":          p.Bed,
		"count":        times,
		"profile":      p.Profile,
		"material":     p.Species,
		"course":       p.Course,
		"length_mm":    p.Length.Millimetres(),
		"extra_mm":     p.Extra.Millimetres(),
		"width_mm":     p.Width.Millimetres(),
		"thickness_mm": p.Thickness.Millimetres(),
		"ends":         p.Ends,
		"hidden":       p.Hidden,
	}
	for _, n := range p.Notches {
		a, b := place(n.Lo), place(n.Hi)
		had, _ := o["notches_mm"].([][]float64)
		o["notches_mm"] = append(had, []float64{a[0], a[1], a[2], b[0], b[1], b[2]})
	}
	return solidJSON(o, p.Body)
}

// unitJSON is one block or brick with its pose.
func unitJSON(u frame.Unit, times int) m {
	return solidJSON(
		m{
			"id":     u.ID,
			"sku":    u.SKU,
			"kind":   u.Kind,
			"role":   u.Role,
			"bed":    u.Bed,
			"course": u.Course,
			"count":  times,
			"cut_mm": u.Cut.Millimetres(),
			"angle":  u.Angle,
		},
		u.Body,
	)
}

// solidJSON adds what something fills: a box, or its corners.
func solidJSON(o m, body frame.Prism) m {
	if body.IsBox() {
		lo, hi := body.Bounds()
		a, b := place(lo), place(hi)
		o["box_mm"] = []float64{a[0], a[1], a[2], b[0], b[1], b[2]}
		return o
	}
	corners := [][3]float64{}
	for _, c := range body.Corners() {
		corners = append(corners, place(c))
	}
	o["solid_mm"] = corners
	return o
}

func place(p frame.Point) [3]float64 {
	return [3]float64{p.X.Millimetres(), p.Y.Millimetres(), p.Z.Millimetres()}
}

// WriteCutList writes every board and piece as CSV: one row for the pieces of a letter that
// come out of one place on a board, so that counts add up to the pieces. Lengths are in the
// project's words and in millimetres.
func WriteCutList(w io.Writer, p *plan.Plan) error {
	c := csv.NewWriter(w)
	pr := p.Shop.Precision()
	rows := [][]string{
		{
			"board",
			"stock",
			"profile",
			"timber",
			"board length",
			"piece",
			"use",
			"bed",
			"length",
			"length_mm",
			"width",
			"width_mm",
			"blank",
			"strip",
			"count",
			"from left end",
			"left over",
		},
	}
	n := 0
	for _, cuts := range p.Cuts {
		for _, b := range cuts.Answer.Boards {
			full := cuts.Profile.Width
			if b.Stock.Width > 0 {
				full = b.Stock.Width
			}
			for range b.Count {
				n++
				for i, cut := range b.Cuts {
					left := ""
					if i == len(b.Cuts)-1 {
						left = pr.Short(b.Offcut)
					}
					rows = append(
						rows,
						[]string{
							strconv.Itoa(n),
							b.Stock.ID,
							cuts.Profile.Name,
							cuts.Species.Name,
							pr.Short(b.Stock.Length),
							cut.Piece,
							use(p, cut.Piece),
							bedsOf(p, cut.Piece),
							pr.Short(cut.Length),
							millimetres(cut.Length),
							pr.Short(cut.Wide(full)),
							millimetres(cut.Wide(full)),
							numbered(
								cut.Blank,
							),
							numbered(cut.Strip),
							strconv.Itoa(max(1, cut.Out)),
							pr.Short(cut.End()),
							left,
						},
					)
				}
			}
		}
	}
	return finish(c, rows)
}

// numbered is a number from 1, nothing for 0.
func numbered(n int) string {
	if n == 0 {
		return ""
	}
	return strconv.Itoa(n)
}

// bedsOf are the beds that a letter's pieces go into.
func bedsOf(p *plan.Plan, letter string) string {
	var names []string
	for i := range p.Frames {
		for _, part := range p.Frames[i].Parts {
			if part.Letter == letter && !slices.Contains(names, p.Frames[i].Name) {
				names = append(names, p.Frames[i].Name)
			}
		}
	}
	return strings.Join(names, "; ")
}

func millimetres(l measure.Length) string { return strconv.FormatFloat(l.Millimetres(), 'f', -1, 64) }

func use(p *plan.Plan, letter string) string {
	for i := range p.Frames {
		for _, part := range p.Frames[i].Parts {
			if part.Letter == letter {
				return part.Kind
			}
		}
	}
	return ""
}

// saidAll says several texts.
func saidAll(p *plan.Plan, texts []string) []string {
	list := make([]string, len(texts))
	for i, t := range texts {
		list[i] = p.Say(t)
	}
	return list
}

// WriteShopping writes the shopping list as CSV.
func WriteShopping(w io.Writer, p *plan.Plan) error {
	rows := [][]string{{"group", "item", "quantity", "unit", "price", "amount", "sku"}}
	for _, l := range p.Bill.Lines {
		rows = append(
			rows,
			[]string{
				string(l.Group),
				p.Say(l.Item),
				strconv.Itoa(l.Quantity),
				l.Unit,
				l.Price.String(),
				l.Amount.String(),
				l.SKU,
			},
		)
	}
	if p.Bill.Tax > 0 {
		rows = append(rows, []string{"", "tax", "", "", "", p.Bill.Tax.String(), ""})
	}
	for _, w := range p.Bill.Without {
		rows = append(rows, []string{"", "cannot be had: " + w, "", "", "", "", ""})
	}
	rows = append(rows, []string{"", "total", "", "", p.Shop.Currency().Code, p.Bill.Total.String(), ""})
	return finish(csv.NewWriter(w), rows)
}

// finish writes rows, with a quote before anything a spreadsheet would run as
// a formula.
func finish(c *csv.Writer, rows [][]string) error {
	for _, r := range rows {
		for i, cell := range r {
			if cell != "" && (cell[0] == '=' || cell[0] == '+' || cell[0] == '@' || cell[0] == '-') {
				r[i] = "'" + cell
			}
		}
	}
	if err := c.WriteAll(rows); err != nil {
		return fmt.Errorf("write csv: %w", err)
	}
	return nil
}
