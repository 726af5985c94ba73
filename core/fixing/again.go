package fixing

import (
	"chamfer/core/catalog"
	"chamfer/core/frame"
)

// Draft is the screws of a project's joints before they are made fewer, bed by bed, for one of
// them to be tried anew: beds share their sizes of screws, so that what one takes decides what
// another gets.
type Draft struct {
	frames []frame.Frame
	beds   [][]chosen // joints that are alike for this purpose as one, with all their screws
	cat    *catalog.Catalog
	habits catalog.Habits
}

// DraftOf notes the screws of all beds.
func DraftOf(frames []frame.Frame, cat *catalog.Catalog, habits catalog.Habits) *Draft {
	d := &Draft{frames: frames, cat: cat, habits: habits}
	for i := range frames {
		all, _ := wanted(&frames[i], cat)
		d.beds = append(d.beds, alike(all))
	}
	return d
}

// alike makes one of all joints that take the same screws.
func alike(all []chosen) []chosen {
	type key struct {
		kind          frame.JointKind
		through, into int64
		loaded        bool
		fixing        string
	}
	var list []chosen
	at := map[key]int{}
	once := &frame.Frame{Times: 1}
	for _, c := range all {
		k := key{c.joint.Kind, int64(c.joint.Through), int64(c.joint.Into), c.joint.Load != "", c.fixing.ID}
		i, there := at[k]
		if !there {
			i = len(list)
			at[k], list = i, append(list, chosen{c.joint, once, c.fixing, 0})
		}
		list[i].count += c.count * max(1, c.frame.Times)
	}
	return list
}

// With is the plan of a project whose i-th bed is another: its joints' fixings, and what is
// needed in all.
func (d *Draft) With(i int, f *frame.Frame) Plan {
	p := Plan{ByJoint: map[string]Fixed{}}
	var all []chosen
	own, from := []chosen{}, 0
	for k, bed := range d.beds {
		if k == i {
			own, p.Missing = wanted(f, d.cat)
			from, bed = len(all), own
		}
		all = append(all, bed...)
	}
	fewer(all, d.habits)
	for k, c := range all {
		fixed := Fixed{Fixing: c.fixing, Count: c.count}
		if k >= from && k < from+len(own) {
			fixed.Pilot = pilot(c.fixing, gravityOf(c.joint, c.frame, d.cat), d.cat)
			p.ByJoint[c.joint.ID] = fixed
		}
		p.need(c, fixed, d.cat)
	}
	frames := append([]frame.Frame{}, d.frames...)
	frames[i] = *f
	p.finish(frames, d.cat, d.habits)
	p.Missing = p.MissingOf(f.Bed)
	return p
}
