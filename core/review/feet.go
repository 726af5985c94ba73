package review

import (
	"fmt"
	"math"
	"slices"

	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
	"chamfer/core/strength"
)

var _ = check(110, (*reviewer).sinks, "feet-sink")

// sinks tells of feet that ground which is soft does not bear.
func (r *reviewer) sinks() {
	var worst strength.Link
	var feet []string
	for _, l := range r.Links {
		p, ok := r.Frame.Part(l.From)
		if l.Path != strength.OnFloor || l.Way != strength.OnGround || !ok || p.Grain != frame.Z || l.Ratio() <= 1 {
			continue
		}
		feet = append(feet, l.From)
		if l.Ratio() > worst.Ratio() {
			worst = l
		}
	}
	if len(feet) == 0 {
		return
	}
	rule := strength.Rules[strength.OnGround]
	f := Finding{Code: "feet-sink", Severity: Note, Parts: feet,
		Text: fmt.Sprintf(
			"Under wet soil %s presses on the ground with %s, and ground that is not soft bears %s there: it sinks"+
				" until it finds hold. A paving slab under each foot keeps it level.",
			r.role(worst.From),
			r.force(worst.Load),
			r.force(worst.Holds),
		),
		Why: Why{
			Given:  []string{measure.Count(len(feet), "foot")},
			Steps:  share(worst),
			Rule:   rule.Words,
			Result: "Planters stand so on lawns, and settle: common practice, and the severity goes by it.",
			Source: rule.Source,
		}}
	if r.Frame.OnFeet {
		f.Remedies = []Remedy{{"stand it on paving", []design.Edit{r.edit("on", "slab")}}}
	}
	r.report(f)
}

var _ = check(120, (*reviewer).slides, "blocks-slide")

// slides tells of blocks whose slots boards lean on, where their weight does not hold them.
// Pinned to the ground two or three high they stand for years.
func (r *reviewer) slides() {
	var worst strength.Link
	var parts []string
	for _, l := range r.Links {
		if _, isPart := r.Frame.Part(l.From); l.Way != strength.ByWeight || l.Path != strength.OnSide || isPart ||
			len(r.Frame.Stacks) > 0 ||
			l.Ratio() <= 1 {
			continue
		}
		parts = append(parts, l.From)
		if l.Ratio() > worst.Ratio() {
			worst = l
		}
	}
	if len(parts) == 0 {
		return
	}
	rule := strength.Rules[strength.ByWeight]
	f := Finding{Code: "blocks-slide", Severity: severity(worst), Parts: parts,
		Text: fmt.Sprintf(
			"Soil pushes at a stack of blocks with %s through the boards in its slots, and its weight holds %s"+
				" against that.",
			r.force(worst.Load),
			r.force(worst.Breaks),
		),
		Why: Why{
			Given: []string{r.p.Feet(r.Bed.Soil) + " of soil", measure.Count(len(parts), "stack")},
			Steps: share(worst),
			Rule: rule.Words + " A pin keeps the blocks over one another and holds a little more; none of that is" +
				" counted on.",
			Source: rule.Source + "; stacks of two or three that are pinned to the ground stand for years: common" +
				" practice, and the severity goes by it",
		}}
	if slices.ContainsFunc(r.Frame.Fittings, func(x frame.Fitting) bool { return x.Kind == "pin" }) &&
		r.Frame.Courses() <= 3 {
		f.Severity = Note
		f.Text += " Two or three high and pinned to the ground they have stood for years all the same."
	} else if d, ok := design.Serve(r.Bed, design.PinsStacks); ok && !d.Taken(r.Bed) {
		f.Remedies = append(f.Remedies, Remedy{d.Words, []design.Edit{d.Edit(r.Bed)}})
	}
	if less := r.lessSoil(math.Sqrt(worst.Ratio())); less > 0 {
		f.Remedies = append(f.Remedies, Remedy{r.p.Feet(less) + " of soil", r.to("soil", less)})
	}
	r.report(f)
}
