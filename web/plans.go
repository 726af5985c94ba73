package web

import (
	"slices"
	"sync/atomic"

	"chamfer/core/plan"
	"chamfer/store"
)

// keptPlans are plans as they were made, by project and revision, while the program runs: what a page shows and what
// the next one compares with. A plan follows from its design and its shop alone, so one is of use where both are the
// same.
type keptPlans struct {
	shelf[planKey, *plan.Plan]
	round atomic.Int64 // of what is known of cuts: plans of an earlier one are not kept
}

type planKey struct{ project, revision int64 }

// mostPlans is how many bytes of plans are kept, perThing about what each part, block and joint of one takes with its
// share of the steps, and planAtLeast what one takes however small.
const (
	mostPlans   = 64 << 20
	perThing    = 2 << 10
	planAtLeast = 64 << 10
)

func weightOf(p *plan.Plan) int { return planAtLeast + perThing*p.Things() }

// of returns the plan of a revision, where it was made for the same shop.
func (k *keptPlans) of(project, revision int64, shop plan.Shop) (*plan.Plan, bool) {
	return k.get(planKey{project, revision}, func(p *plan.Plan) bool {
		was := p.Shop
		return was.Catalog == shop.Catalog && was.Habits == shop.Habits && was.Cut == shop.Cut &&
			slices.Equal(was.Shed, shop.Shed) && len(was.Found)+len(shop.Found) == 0
	})
}

// forget lets go of all of them: a search has found better cuts, and plans made from now on count on those.
func (k *keptPlans) forget() { k.clear(func() { k.round.Add(1) }) }

// now is the round in which a plan is begun.
func (k *keptPlans) now() int64 { return k.round.Load() }

// keep keeps the plan of a revision that was begun in a round.
func (k *keptPlans) keep(p store.Standing, pl *plan.Plan, round int64) {
	k.put(planKey{p.ID, p.Head}, pl, weightOf(pl), mostPlans, func() bool { return round == k.round.Load() })
}
