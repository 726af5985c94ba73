// Package sun tells where the sun stands and what it reaches: its height and bearing at a
// place and moment, when it rises and sets, and for how long it shines on a spot between
// walls, sheds, trees and beds. All of it is pure: the same place and time give the same
// answer, and nothing is asked of a clock.
package sun

import "math"

// Place is a point on the Earth: degrees north and east.
type Place struct {
	Lat  float64 // -90 to 90
	Lon  float64 // -180 to 180, east positive
	Zone float64 // hours that its clocks are ahead of UT, summer time and all
}

// Date is a day of the Gregorian calendar.
type Date struct{ Year, Month, Day int }

// Position is where the sun stands, in degrees. Altitude is geometric, without refraction, above the level horizon;
// Azimuth is from north, clockwise, in both hemispheres.
type Position struct {
	Altitude, Azimuth float64
	Declination       float64
	Equation          float64 // of time, minutes: apparent less mean solar time
}

// JulianDay is the Julian day of an instant: the day of a Gregorian date with its part of a day in universal time.
// Source: Meeus, Astronomical Algorithms, 2nd ed., ch. 7 (from memory).
func JulianDay(year, month int, day float64) float64 {
	if month <= 2 {
		year, month = year-1, month+12
	}
	a := math.Floor(float64(year) / 100)
	b := 2 - a + math.Floor(a/4)
	return math.Floor(365.25*float64(year+4716)) + math.Floor(30.6001*float64(month+1)) + day + b - 1524.5
}

// At is where the sun stands over a place when its clocks show an hour of a date: 13.5 is half past one.
func At(p Place, on Date, hour float64) Position {
	jd := JulianDay(on.Year, on.Month, float64(on.Day)+(hour-p.Zone)/24)
	s := apparent(jd)
	minutes := hour*60 + s.equation + 4*p.Lon - 60*p.Zone // true solar time
	angle := minutes/4 - 180
	lat := rad(p.Lat)
	sin := math.Sin(lat)*math.Sin(s.declination) + math.Cos(lat)*math.Cos(s.declination)*math.Cos(rad(angle))
	az := 180 + deg(math.Atan2(math.Sin(rad(angle)),
		math.Cos(rad(angle))*math.Sin(lat)-math.Tan(s.declination)*math.Cos(lat)))
	return Position{Altitude: deg(math.Asin(min(1, max(-1, sin)))), Azimuth: math.Mod(az+360, 360),
		Declination: deg(s.declination), Equation: s.equation}
}

// apparent is the sun's apparent place at a Julian day, within 0.01 degree from 1950 to 2100.
// Source: the formulas of the NOAA solar calculator, after Meeus, ch. 22, 25 and 28 (from memory).
func apparent(jd float64) (s struct{ declination, equation, longitude, distance float64 }) {
	t := (jd - 2451545) / 36525
	l0 := math.Mod(280.46646+t*(36000.76983+0.0003032*t), 360)
	m := rad(357.52911 + t*(35999.05029-0.0001537*t))
	e := 0.016708634 - t*(0.000042037+0.0000001267*t)
	c := math.Sin(m)*(1.914602-t*(0.004817+0.000014*t)) + math.Sin(2*m)*(0.019993-0.000101*t) +
		0.000289*math.Sin(3*m)
	node := rad(125.04 - 1934.136*t)
	lam := l0 + c - 0.00569 - 0.00478*math.Sin(node)
	eps := rad(23 + (26+(21.448-t*(46.815+t*(0.00059-0.001813*t)))/60)/60 + 0.00256*math.Cos(node))
	s.longitude = math.Mod(lam+720, 360)
	s.distance = 1.000001018 * (1 - e*e) / (1 + e*math.Cos(m+rad(c)))
	s.declination = math.Asin(math.Sin(eps) * math.Sin(rad(lam)))
	y := math.Tan(eps/2) * math.Tan(eps/2)
	l := rad(l0)
	s.equation = 4 * deg(y*math.Sin(2*l)-2*e*math.Sin(m)+4*e*y*math.Sin(m)*math.Cos(2*l)-
		y*y/2*math.Sin(4*l)-1.25*e*e*math.Sin(2*m))
	return s
}

// Refraction is how much higher than it is the sun is seen, in degrees, at a geometric altitude.
// Source: the NOAA solar calculator's approximation (from memory).
func Refraction(altitude float64) float64 {
	t := math.Tan(rad(altitude))
	switch h := altitude; {
	case h > 85:
		return 0
	case h > 5:
		return (58.1/t - 0.07/(t*t*t) + 0.000086/math.Pow(t, 5)) / 3600
	case h > -0.575:
		return (1735 + h*(-518.2+h*(103.4+h*(-12.79+0.711*h)))) / 3600
	default:
		return -20.772 / t / 3600
	}
}

// Day is one day's sun at a place, in hours of its clocks. Up and Down tell of the days without a rising: the sun is up
// all day, or down.
type Day struct {
	Rise, Noon, Set float64
	Up, Down        bool
}

// Length is how long the sun is up, in hours.
func (d Day) Length() float64 {
	switch {
	case d.Up:
		return 24
	case d.Down:
		return 0
	}
	return d.Set - d.Rise
}

// horizon is the zenith distance of the sun's middle when its upper edge is seen on the horizon, in degrees: 90 and 50
// minutes of arc, the almanacs' convention.
const horizon = 90.833

// Of is a day's sun: rising and setting of the upper edge as it is seen, over a level horizon.
func Of(p Place, on Date) Day {
	at := func(minutes float64) (equation, declination float64) {
		s := apparent(JulianDay(on.Year, on.Month, float64(on.Day)+(minutes/60-p.Zone)/24))
		return s.equation, s.declination
	}
	middle := 720 - 4*p.Lon + 60*p.Zone
	noon := middle
	for range 3 {
		eq, _ := at(noon)
		noon = middle - eq
	}
	d := Day{Noon: noon / 60}
	event := func(sign float64) (float64, int) {
		t := noon
		for range 5 {
			eq, dec := at(t)
			lat := rad(p.Lat)
			cos := math.Cos(rad(horizon))/(math.Cos(lat)*math.Cos(dec)) - math.Tan(lat)*math.Tan(dec)
			if !(math.Abs(cos) <= 1) { // at the poles it is not a number
				_, dec := at(noon)
				if (dec > 0) == (p.Lat > 0) {
					return 0, 1
				}
				return 0, -1
			}
			t = middle - eq + sign*4*deg(math.Acos(cos))
		}
		return t / 60, 0
	}
	var polar int
	if d.Rise, polar = event(-1); polar == 0 {
		d.Set, polar = event(1)
	}
	if polar != 0 {
		return Day{Noon: d.Noon, Up: polar > 0, Down: polar < 0}
	}
	return d
}

func rad(d float64) float64 { return d * math.Pi / 180 }
func deg(r float64) float64 { return r * 180 / math.Pi }
