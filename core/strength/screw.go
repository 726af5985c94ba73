package strength

import (
	"math"

	"chamfer/core/catalog"
	"chamfer/core/measure"
)

// Screw is a screw, bolt or nail in a joint of two pieces, one behind the other:
//
//	 side | main
//	======|----------
//	(|####|####>           Thread is what holds in the main piece
//	======|----------
type Screw struct {
	Kind     catalog.FixingKind
	Diameter measure.Length // of the shank
	Root     measure.Length // of the thread
	Thread   measure.Length // in the main piece, without a lag's tip
	Side     measure.Length // thickness of what it fastens
	EndGrain bool           // the main piece receives it in its end
	Plate    bool           // what it fastens is a steel plate, not wood
	Wood     catalog.Species
}

// poundsPerInch in N/m (NIST SP 811: 1 lbf/in = 175.126 8 N/m).
const poundsPerInch = 175.126_8

// Withdrawal is what a metre of thread holds in side grain, in N/m, before any
// adjustment (NDS 2018 12.2: lag screws 1800 G^1.5 D^0.75, eq. 12.2-1; wood screws 2850
// G² D, 12.2-2; smooth nails 1380 G^2.5 D, 12.2-3, lb an inch, from memory). g is the
// specific gravity.
func Withdrawal(kind catalog.FixingKind, g float64, d measure.Length) float64 {
	in := d.Inches()
	switch kind {
	case catalog.Lag:
		return 1800 * math.Pow(g, 1.5) * math.Pow(in, 0.75) * poundsPerInch
	case catalog.Nail:
		return 1380 * math.Pow(g, 2.5) * in * poundsPerInch
	}
	return 2850 * g * g * in * poundsPerInch
}

// Adjustments for a joint that soil loads for good and keeps wet: NDS 2018 Table 2.3.2
// (permanent 0.9), Table 11.3.3 (wet service 0.7; nails that cross 19 % 0.25), from
// memory. In end grain a lag holds 0.75 of it (12.5.2.1); a wood screw may not be
// counted on by the standard, but corners are screwed that way everywhere: with pilot
// holes, so that nothing splits, tests average 0.75 (Wood Handbook FPL-GTR-282 ch. 8),
// though erratically. A nail in end grain holds nothing.
const (
	lasting   = 0.9
	wetScrew  = 0.7
	wetNail   = 0.25
	endOfLag  = 0.75
	endScrew  = 0.75
	endAcross = 0.67 // of any, across its length, in end grain (NDS 12.5.2.2)
)

// Pull is what one screw bears along its length, in N.
func (s Screw) Pull() float64 {
	p := Withdrawal(s.Kind, s.Wood.SpecificGravity(), s.Diameter) * s.Thread.Metres() * lasting
	switch {
	case s.Kind == catalog.Nail && s.EndGrain:
		return 0
	case s.Kind == catalog.Nail:
		return p * wetNail
	case s.EndGrain && s.Kind == catalog.Lag:
		return p * wetScrew * endOfLag
	case s.EndGrain:
		return p * wetScrew * endScrew
	}
	return p * wetScrew
}

// Across is what one screw bears across its length, in N: the least of the yield modes
// of NDS 2018 Table 12.3.1A in single shear, both pieces of one wood, with as much of it
// as reaches into the main piece.
func (s Screw) Across() float64 {
	z := Lateral(s.Kind, s.Wood.SpecificGravity(), s.Diameter, s.Root, s.Side, s.Thread)
	if s.Plate {
		z = throughPlate(s.Kind, s.Wood.SpecificGravity(), s.Diameter, s.Root, s.Thread)
	}
	z *= lasting * wetScrew
	if s.EndGrain {
		z *= endAcross
	}
	return z
}

// Lateral is the reference value of one screw or nail across its length in N, single
// shear (NDS 2018 12.3 and Table 12.3.1A; Fe = 16 600 G^1.84 psi rounded to 50, K_D 2.2
// up to 0.17 in and 10 D + 0.5 over it; Fyb of nails by App. I, of screws 90, 80 and 70
// ksi by gauge; from memory). Screws bend at their root.
func Lateral(kind catalog.FixingKind, g float64, shank, root, side, main measure.Length) float64 {
	d, fyb := bent(kind, shank, root)
	kd, fe := reduced(d), embeds(g)
	lm, ls := main.Inches(), side.Inches()
	if lm <= 0 || ls <= 0 {
		return 0
	}
	if shank.Inches() >= 0.25 {
		return thick(g, shank.Inches(), d, fyb, ls, lm) * poundsPerInch * 0.0254
	}
	rt := lm / ls
	k1 := (math.Sqrt(1+2*(1+rt+rt*rt)+rt*rt) - (1 + rt)) / 2
	k2 := -1 + math.Sqrt(4+2*fyb*3*d*d/(3*fe*lm*lm))
	k3 := -1 + math.Sqrt(4+2*fyb*3*d*d/(3*fe*ls*ls))
	z := min(d*lm*fe, d*ls*fe, k1*d*ls*fe,
		k2*d*lm*fe/3, k3*d*ls*fe/3, d*d*math.Sqrt(2*fe*fyb/(3*2)))
	return z / kd * poundsPerInch * 0.0254
}

// thick is the reference value of a lag of 1/4 in and more in lb, both pieces taken across
// the grain: Fe 6100 G^1.45/root(D), and the modes over 4, 3.6 and 3.2 times K of 1.25
// (NDS 2018 Tables 12.3.1A, 12.3.1B and 12.3.3, from memory). Lengths in inches, psi.
func thick(g, shank, d, fyb, ls, lm float64) float64 {
	const k = 1.25
	fe := math.Round(6100*math.Pow(g, 1.45)/math.Sqrt(shank)/50) * 50
	rt := lm / ls
	k1 := (math.Sqrt(1+2*(1+rt+rt*rt)+rt*rt) - (1 + rt)) / 2
	k2 := -1 + math.Sqrt(4+2*fyb*3*d*d/(3*fe*lm*lm))
	k3 := -1 + math.Sqrt(4+2*fyb*3*d*d/(3*fe*ls*ls))
	return min(
		d*min(lm, ls)*fe/(4*k),
		k1*d*ls*fe/(3.6*k),
		min(k2*d*lm*fe/3, k3*d*ls*fe/3, d*d*math.Sqrt(2*fe*fyb/6))/(3.2*k),
	)
}

// Over is how many times what is counted on lets a thread go on average, after ten years'
// load: tests find 15 700 G² D L of a wood screw, 7850 G^2.5 D L of a nail and 8100 G^1.5
// D^0.75 L of a lag (Wood Handbook FPL-GTR-282 ch. 8), 5.5, 5.7 and 4.5 times NDS, over 1.6.
func (s Screw) Over() float64 {
	switch s.Kind {
	case catalog.Lag:
		return 8100.0 / 1800 / tenYears
	case catalog.Nail:
		return 7850.0 / 1380 / tenYears
	}
	return pullsOut
}

// tenYears is by how much less wood bears a load of ten years than a test of minutes (NDS
// App. B).
const tenYears = 1.6

// throughPlate is the reference value in N where a plate of steel is fastened: the plate
// does not give, so modes I_m, III_m and IV of Table 12.3.1A are left, with its bearing
// strength 61.85 ksi (NDS 2018 Table 12.3.1A and 12N for ASTM A653 steel, from memory).
func throughPlate(kind catalog.FixingKind, g float64, shank, root, main measure.Length) float64 {
	d, fyb := bent(kind, shank, root)
	fe, lm := embeds(g), main.Inches()
	if lm <= 0 {
		return 0
	}
	re := fe / 61_850
	k2 := -1 + math.Sqrt(2*(1+re)+2*fyb*(1+2*re)*d*d/(3*fe*lm*lm))
	z := min(d*lm*fe, k2*d*lm*fe/(1+2*re), d*d*math.Sqrt(2*fe*fyb/(3*(1+re))))
	return z / reduced(d) * poundsPerInch * 0.0254
}

// bent is the thickness at which a fixing bends, in inches, and its bending strength, psi.
func bent(kind catalog.FixingKind, shank, root measure.Length) (d, fyb float64) {
	d = shank.Inches()
	switch {
	case kind == catalog.Nail && d <= 0.142:
		fyb = 100e3
	case kind == catalog.Nail && d <= 0.177:
		fyb = 90e3
	case kind == catalog.Nail:
		fyb = 80e3
	case d < 0.18: // #8, #9
		fyb, d = 90e3, root.Inches()
	case d < 0.22: // #10, #12
		fyb, d = 80e3, root.Inches()
	case kind == catalog.Lag:
		fyb, d = 45e3, root.Inches()
	default:
		fyb, d = 70e3, root.Inches()
	}
	return d, fyb
}

// reduced is what a yield mode is divided by (K_D), d in inches.
func reduced(d float64) float64 {
	if d > 0.17 {
		return 10*d + 0.5
	}
	return 2.2
}

// embeds is a wood's dowel bearing strength in psi.
func embeds(g float64) float64 { return math.Round(16600*math.Pow(g, 1.84)/50) * 50 }
