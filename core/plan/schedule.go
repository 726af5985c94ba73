package plan

import "chamfer/core/schedule"

// Schedule is when the steps are done that are not done yet, by who there is in the hours they have. It fails where
// those leave no room for one. It is reckoned when it is asked for.
func (p *Plan) Schedule(done map[string]bool) (schedule.Plan, error) {
	return schedule.Of(p.Steps, p.Design.CalendarOr(), done)
}
