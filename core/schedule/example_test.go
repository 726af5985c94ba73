package schedule_test

import (
	"fmt"

	"chamfer/core/design"
	"chamfer/core/schedule"
	"chamfer/core/work"
)

// Two steps with a week between them, at weekends.
func ExampleOf() {
	mortar := work.Waits()["mortar"]
	steps := []work.Step{
		{ID: "lay", Hands: 1, Chores: []work.Chore{{Rate: work.Rates()["brick"], N: 60}}},
		{ID: "fill", Hands: 1, Chores: []work.Chore{{Rate: work.Rates()["fill"], N: 1}},
			After: []work.Before{{ID: "lay", Why: "it holds the soil", Wait: mortar}}},
	}
	c := design.Calendar{Start: "2027-04-03", People: 1, Pace: "usual", Hours: map[string]string{"sat": "9-12"}}
	p, err := schedule.Of(steps, c, nil)
	if err != nil {
		fmt.Println(err)
		return
	}
	for i, d := range p.Done {
		fmt.Printf("%s on %s at %s\n", steps[p.Jobs[i].Step].ID, p.Date(d.Begin()).Format("2 January"), d.Begin().Clock())
	}
	// Output:
	// lay on 3 April at 9:00
	// fill on 17 April at 9:25
}
