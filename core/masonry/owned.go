package masonry

import (
	"fmt"
	"strconv"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/measure"
)

// mostCourses is as many as are laid one on the other without an engineer's word; Check
// refuses what is too high all the same.
const mostCourses = 12

// ringsOf is every ring that so many units make: of one course, of two and so on, each as
// large as they reach, its units touching inside; and where no more can be, why.
//
//	40 units   1 x 40        2 x 20      3 x 13 and one over     4 x 10
func ringsOf(b design.Bed, cat *catalog.Catalog, units int) []design.Way {
	u, err := cat.Unit(b.Options[unitKey])
	if err != nil {
		return nil
	}
	p := cat.Precision(cat.Habits)
	parts := arcs[b.Options[arcKey]]
	var list []design.Way
	for courses := 1; courses <= mostCourses; courses++ {
		each := units / courses
		round := each * parts // how many go round the whole circle
		soil := u.Course()*measure.Length(courses) - u.Joint - buried(b) - b.Freeboard
		words := fmt.Sprintf("%s of %d", measure.Count(courses, "course"), each)
		if least := leastRound(u, parts); round < least {
			return append(list, design.Way{Words: words, Used: courses * each,
				Not: fmt.Sprintf("these blocks close a course of %d or more", (least+parts-1)/parts)})
		}
		if soil <= 0 {
			list = append(list, design.Way{Words: words, Used: courses * each,
				Not: "so low it holds no soil, with what is buried and what is kept free below the rim"})
			continue
		}
		across := func(joint measure.Length) string {
			l := acrossOf(parts, apothem(u, round, joint))
			return p.Feet(l / p.Step * p.Step)
		}
		words += fmt.Sprintf(": %s across inside, %s with the joints opened; %s of soil",
			across(u.Joint), across(widestGap), p.Feet(soil))
		if left := units - courses*each; left > 0 {
			words += fmt.Sprintf("; %d left over", left)
		}
		list = append(list, design.Way{Words: words, Used: courses * each, Edits: []design.Edit{
			{Field: tiersKey, Value: "1"}, {Field: countKey, Value: strconv.Itoa(round)},
			{Field: gapKey, Value: u.Joint.String()}, {Field: "soil", Value: soil.String()}}})
	}
	return list
}
