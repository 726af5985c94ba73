package web

import (
	"container/list"
	"slices"
	"sync"

	"chamfer/core/plan"
	"chamfer/store"
)

// keptPlans are plans as they were made, by project and revision, while the program runs: what a page shows and what
// the next one compares with. A plan follows from its design and its shop alone, so one is of use where both are the
// same. They are bounded by about their bytes; those not asked for longest go first.
type keptPlans struct {
	mu    sync.Mutex
	by    map[planKey]*list.Element
	order list.List // of keptPlan, the newest first
	bytes int
	round int // of what is known of cuts: plans of an earlier one are not kept
}

type planKey struct{ project, revision int64 }

type keptPlan struct {
	planKey
	plan *plan.Plan
}

// mostPlans is how many bytes of plans are kept, perThing about what each part, block and joint of one takes with its
// share of the steps, and planAtLeast what one takes however small.
const (
	mostPlans   = 64 << 20
	perThing    = 2 << 10
	planAtLeast = 64 << 10
)

func weightOf(p *plan.Plan) int { return planAtLeast + perThing*p.Things() }

// get returns the plan of a revision, where it was made for the same shop.
func (k *keptPlans) get(project, revision int64, shop plan.Shop) (*plan.Plan, bool) {
	k.mu.Lock()
	defer k.mu.Unlock()
	e, ok := k.by[planKey{project, revision}]
	if !ok {
		return nil, false
	}
	p := e.Value.(keptPlan).plan
	was := p.Shop
	if was.Catalog != shop.Catalog || was.Habits != shop.Habits || was.Cut != shop.Cut ||
		!slices.Equal(was.Shed, shop.Shed) || len(was.Found)+len(shop.Found) > 0 {
		return nil, false
	}
	k.order.MoveToFront(e)
	return p, true
}

// forget lets go of all of them: a search has found better cuts, and plans made from now on count on those.
func (k *keptPlans) forget() {
	k.mu.Lock()
	defer k.mu.Unlock()
	k.by, k.bytes = nil, 0
	k.order.Init()
	k.round++
}

// now is the round in which a plan is begun.
func (k *keptPlans) now() int {
	k.mu.Lock()
	defer k.mu.Unlock()
	return k.round
}

// put keeps the plan of a revision that was begun in a round.
func (k *keptPlans) put(p store.Standing, pl *plan.Plan, round int) {
	key := planKey{p.ID, p.Head}
	k.mu.Lock()
	defer k.mu.Unlock()
	if round != k.round {
		return
	}
	if k.by == nil {
		k.by = map[planKey]*list.Element{}
	}
	if e, ok := k.by[key]; ok {
		k.drop(e)
	}
	k.by[key] = k.order.PushFront(keptPlan{key, pl})
	for k.bytes += weightOf(pl); k.bytes > mostPlans && k.order.Len() > 1; {
		k.drop(k.order.Back())
	}
}

func (k *keptPlans) drop(e *list.Element) {
	p := k.order.Remove(e).(keptPlan)
	delete(k.by, p.planKey)
	k.bytes -= weightOf(p.plan)
}
