package sun

import "math"

// Spot is a place on the plot in metres: X to the right, Y away from the viewer, Z up from the ground.
type Spot struct{ X, Y, Z float64 }

// Thing throws a shadow. It is a box, turned by nothing, or a round crown on its trunk.
type Thing struct {
	Name         string
	X0, Y0       float64 // of a box; the middle of a round one
	X1, Y1       float64 // of a box
	Bottom, Top  float64 // of what is solid
	Radius       float64 // of a round one; 0 for a box
	Trunk        float64 // its trunk's radius, from the ground to Bottom; 0 for none
	Lets         float64 // part of the light that comes through, 0 to 1: a bare crown, a net
	Bare         [2]int  // months from and to which it is bare, 0 for never: December to March is {12, 3}
	LetsWhenBare float64
}

// lets is how much light comes through in a month.
func (t Thing) lets(month int) float64 {
	from, to := t.Bare[0], t.Bare[1]
	if from == 0 {
		return t.Lets
	}
	in := month >= from && month <= to
	if from > to {
		in = month >= from || month <= to
	}
	if in {
		return t.LetsWhenBare
	}
	return t.Lets
}

// Ray is the way to the sun from the plot: a unit of run has Rise of height.
type Ray struct {
	DX, DY, Rise float64
	Month        int
	Hours        float64 // that it stands for
}

// Towards is the way to the sun on a plot whose north lies so many degrees to the right of straight up.
func Towards(s Position, north float64) Ray {
	az := rad(s.Azimuth + north)
	return Ray{DX: math.Sin(az), DY: math.Cos(az), Rise: math.Tan(rad(s.Altitude))}
}

// through is the stretch of the ray, in metres of run from q, over a thing's plan; false where it misses.
func (t Thing) through(q Spot, r Ray, radius float64) (from, to float64, ok bool) {
	if radius > 0 {
		x, y := t.X0-q.X, t.Y0-q.Y
		along := x*r.DX + y*r.DY
		off := x*r.DY - y*r.DX
		half := radius*radius - off*off
		if half <= 0 {
			return 0, 0, false
		}
		half = math.Sqrt(half)
		from, to = along-half, along+half
	} else {
		from, to = math.Inf(-1), math.Inf(1)
		for _, a := range [2][4]float64{{q.X, r.DX, t.X0, t.X1}, {q.Y, r.DY, t.Y0, t.Y1}} {
			if math.Abs(a[1]) < 1e-12 {
				if a[0] <= a[2] || a[0] >= a[3] {
					return 0, 0, false
				}
				continue
			}
			u, v := (a[2]-a[0])/a[1], (a[3]-a[0])/a[1]
			from, to = max(from, min(u, v)), min(to, max(u, v))
		}
	}
	from = max(from, 0)
	return from, to, to > from+1e-9
}

// blocks reports whether a thing's solid is met between the spot and the sun.
func (t Thing) blocks(q Spot, r Ray) bool {
	met := func(radius, bottom, top float64) bool {
		from, to, ok := t.through(q, r, radius)
		return ok && q.Z+to*r.Rise > bottom && q.Z+from*r.Rise < top
	}
	return met(t.Radius, t.Bottom, t.Top) || t.Trunk > 0 && met(t.Trunk, 0, t.Bottom)
}

// Light is the part of the direct sun that reaches a spot along a ray, 0 to 1.
func Light(q Spot, r Ray, things []Thing) float64 {
	part := 1.0
	for i := range things {
		if t := &things[i]; t.blocks(q, r) {
			if part *= t.lets(r.Month); part == 0 {
				return 0
			}
		}
	}
	return part
}

// Season lists the ways to the sun over days, each standing for step hours of a mean day: their hours add up to the
// mean day's length. North is how many degrees it lies to the right of straight up on the plot, least the lowest
// altitude that counts, in degrees.
func Season(p Place, days []Date, step, north, least float64) (rays []Ray) {
	for _, on := range days {
		for h := step / 2; h < 24; h += step {
			s := At(p, on, h)
			if s.Altitude <= max(least, 0) {
				continue
			}
			r := Towards(s, north)
			r.Month, r.Hours = on.Month, step/float64(len(days))
			rays = append(rays, r)
		}
	}
	return rays
}

// Hours is how long the sun shines on a spot on the mean of the days that rays are of.
func Hours(q Spot, rays []Ray, things []Thing) (h float64) {
	for _, r := range rays {
		h += r.Hours * Light(q, r, things)
	}
	return h
}

// Map is hours of sun over a plot, cell by cell, from the left front corner: row by row.
type Map struct {
	Columns, Rows int
	Wide, Deep    float64 // of a cell, metres
	Hours         []float64

	heights []float64 // of each cell's spot above the ground; nil for the ground
}

// MapOf is the hours of sun on the ground of a plot that is wide by deep metres. Only the cells that a shadow may reach
// are asked of it. Heights are those of the cells' spots above the ground; nil for all on it.
func MapOf(wide, deep float64, columns, rows int, heights []float64, rays []Ray, things []Thing) Map {
	m := Map{heights: heights, Columns: columns, Rows: rows, Wide: wide / float64(columns), Deep: deep / float64(rows)}
	m.Hours = make([]float64, columns*rows)
	part := make([]float64, columns*rows)
	for _, r := range rays {
		for i := range part {
			part[i] = 1
		}
		for k := range things {
			t := &things[k]
			m.under(t, r, func(i int, q Spot) {
				if part[i] > 0 && t.blocks(q, r) {
					part[i] *= t.lets(r.Month)
				}
			})
		}
		for i, p := range part {
			m.Hours[i] += r.Hours * p
		}
	}
	return m
}

// under goes over the cells that a thing's shadow may reach.
func (m Map) under(t *Thing, r Ray, do func(i int, q Spot)) {
	long := max(t.Top, t.Bottom) / r.Rise
	x0, x1, y0, y1 := t.X0, t.X1, t.Y0, t.Y1
	if t.Radius > 0 {
		x0, x1, y0, y1 = t.X0-t.Radius, t.X0+t.Radius, t.Y0-t.Radius, t.Y0+t.Radius
	}
	x0, x1 = min(x0, x0-r.DX*long), max(x1, x1-r.DX*long)
	y0, y1 = min(y0, y0-r.DY*long), max(y1, y1-r.DY*long)
	cell := func(at, wide float64, most int) int { return int(min(max(at/wide, 0), float64(most))) }
	i0, i1 := cell(x0, m.Wide, m.Columns), min(cell(x1, m.Wide, m.Columns), m.Columns-1)
	j0, j1 := cell(y0, m.Deep, m.Rows), min(cell(y1, m.Deep, m.Rows), m.Rows-1)
	for j := j0; j <= j1; j++ {
		for i := i0; i <= i1; i++ {
			do(j*m.Columns+i, m.middle(i, j))
		}
	}
}

func (m Map) middle(column, row int) Spot {
	q := Spot{X: (float64(column) + 0.5) * m.Wide, Y: (float64(row) + 0.5) * m.Deep}
	if m.heights != nil {
		q.Z = m.heights[row*m.Columns+column]
	}
	return q
}

// At is the hours at a spot of the plot.
func (m Map) At(x, y float64) float64 {
	i, j := int(x/m.Wide), int(y/m.Deep)
	return m.Hours[min(max(j, 0), m.Rows-1)*m.Columns+min(max(i, 0), m.Columns-1)]
}

// MidMonths are days in the middle of months of a year.
func MidMonths(year int, months ...int) (days []Date) {
	for _, m := range months {
		days = append(days, Date{year, m, 15})
	}
	return days
}

// Growing are the months that plants grow in: May to August, November to February south of the equator.
func Growing(lat float64) []int {
	if lat < 0 {
		return []int{11, 12, 1, 2}
	}
	return []int{5, 6, 7, 8}
}

// Class is how sunny so many hours a day are: 3 full sun, 2 part, 1 less, 0 shade; common practice: 6, 4 and 2 hours,
// the ends belong to the sunnier.
func Class(hours float64) int {
	switch {
	case hours >= 6:
		return 3
	case hours >= 4:
		return 2
	case hours >= 2:
		return 1
	}
	return 0
}

// Shadow is how long a shadow something throws on level ground, in the units of its height; none while the sun is down.
func (p Position) Shadow(height float64) float64 {
	if p.Altitude <= 0 {
		return 0
	}
	return height / math.Tan(rad(p.Altitude))
}
