package sun

import (
	"math"
	"math/rand/v2"
	"testing"
)

func near(t *testing.T, what string, got, want, within float64) {
	t.Helper()
	if math.IsNaN(got) || math.Abs(got-want) > within {
		t.Errorf("%s: %.6f, want %.6f", what, got, want)
	}
}

// Julian days of Meeus, Astronomical Algorithms, 2nd ed., ch. 7 (from memory).
func TestJulianDay(t *testing.T) {
	for _, c := range []struct {
		y, m int
		d    float64
		want float64
	}{{1957, 10, 4.81, 2436116.31}, {2000, 1, 1.5, 2451545}, {1987, 1, 27, 2446822.5}, {1987, 6, 19.5, 2446966},
		{1988, 1, 27, 2447187.5}, {1988, 6, 19.5, 2447332}, {1900, 1, 1, 2415020.5}, {1600, 1, 1, 2305447.5},
		{1600, 12, 31, 2305812.5}} {
		near(t, "julian day", JulianDay(c.y, c.m, c.d), c.want, 1e-6)
	}
}

// The worked position of Reda and Andreas, Solar Position Algorithm for Solar Radiation Applications,
// NREL/TP-560-34302: zenith 50.11162 seen through the air, azimuth 194.34024 (from memory).
func TestPositionOfTheStandardExample(t *testing.T) {
	p := Place{Lat: 39.742476, Lon: -105.1786, Zone: -7}
	s := At(p, Date{2003, 10, 17}, 12.5+30.0/3600)
	near(t, "zenith", 90-s.Altitude-Refraction(s.Altitude), 50.11162, 0.01)
	near(t, "azimuth", s.Azimuth, 194.34024, 0.01)
	near(t, "declination", s.Declination, -9.31434, 0.01)
}

// Longitudes of the sun: June solstice 1962 (Meeus, Ex. 27.a), and instants of equinoxes and solstices as almanacs
// print them, to the minute (US Naval Observatory; from memory). The sun moves 0.01 degree in a quarter of an hour.
func TestLongitudeAtTheSeasons(t *testing.T) {
	at := func(y, mo, d, h, mi int, want float64) {
		jd := JulianDay(y, mo, float64(d)+(float64(h)+float64(mi)/60)/24) + 69.0/86400
		got := apparent(jd).longitude
		near(t, "longitude", math.Mod(got-want+540, 360)-180, 0, 0.01)
	}
	at(1962, 6, 21, 21, 24, 90)
	for _, c := range [][13]int{
		{2000, 20, 7, 35, 21, 1, 48, 22, 17, 28, 21, 13, 37}, {2023, 20, 21, 24, 21, 14, 58, 23, 6, 50, 22, 3, 27},
		{2024, 20, 3, 6, 20, 20, 51, 22, 12, 44, 21, 9, 21}, {2025, 20, 9, 1, 21, 2, 42, 22, 18, 19, 21, 15, 3},
		{2026, 20, 14, 46, 21, 8, 24, 23, 0, 5, 21, 20, 50}} {
		for k, month := range []int{3, 6, 9, 12} {
			at(c[0], month, c[1+3*k], c[2+3*k], c[3+3*k], float64(90*k))
		}
	}
}

// Rising and setting as almanacs print them for 2024, to the minute (from memory).
func TestRisingAndSettingOfAlmanacs(t *testing.T) {
	for _, c := range []struct {
		name           string
		lat, lon, zone float64
		month, day     int
		rise, set      float64
	}{
		{"New York", 40.7128, -74.006, -4, 6, 20, 5*60 + 25, 20*60 + 30},
		{"New York", 40.7128, -74.006, -5, 12, 21, 7*60 + 17, 16*60 + 32},
		{"Seattle", 47.6062, -122.3321, -7, 6, 20, 5*60 + 11, 21*60 + 11},
		{"Seattle", 47.6062, -122.3321, -8, 12, 21, 7*60 + 55, 16*60 + 20},
		{"London", 51.5074, -0.1278, 1, 6, 20, 4*60 + 43, 21*60 + 21},
		{"London", 51.5074, -0.1278, 0, 12, 21, 8*60 + 4, 15*60 + 53},
		{"Berlin", 52.52, 13.405, 2, 6, 20, 4*60 + 43, 21*60 + 33},
		{"Oslo", 59.9139, 10.7522, 2, 6, 20, 3*60 + 54, 22*60 + 44},
		{"Sydney", -33.8688, 151.2093, 11, 12, 21, 5*60 + 41, 20*60 + 5},
		{"Sydney", -33.8688, 151.2093, 10, 6, 21, 7 * 60, 16*60 + 54},
		{"Auckland", -36.8485, 174.7633, 13, 12, 21, 5*60 + 58, 20*60 + 39},
		{"Singapore", 1.3521, 103.8198, 8, 3, 20, 7*60 + 9, 19*60 + 15},
	} {
		d := Of(Place{c.lat, c.lon, c.zone}, Date{2024, c.month, c.day})
		near(t, c.name+" rises", d.Rise*60, c.rise, 1)
		near(t, c.name+" sets", d.Set*60, c.set, 1)
	}
}

// Thirty-two places and moments of 2026, of which a second set of formulas agrees: the low-precision sun of the
// Astronomical Almanac, after Michalsky 1988 (from memory).
func TestPositions(t *testing.T) {
	for _, c := range places {
		p, on := Place{c.lat, c.lon, c.zone}, Date{2026, c.month, c.day}
		s := At(p, on, c.hour)
		near(t, c.name+" declination", s.Declination, c.dec, 0.002)
		near(t, c.name+" equation of time", s.Equation, c.equation, 0.02)
		near(t, c.name+" altitude", s.Altitude, c.alt, 0.01)
		near(t, c.name+" refracted", s.Altitude+Refraction(s.Altitude), c.seen, 0.01)
		within := 0.02
		if c.alt > 80 {
			within = 0.5
		}
		near(t, c.name+" azimuth", s.Azimuth, c.az, within)
		d := Of(p, on)
		near(t, c.name+" noon", d.Noon, c.noon, 2.0/3600)
		if c.rise > 0 {
			near(t, c.name+" rises", d.Rise, c.rise, 5.0/3600)
			near(t, c.name+" sets", d.Set, c.set, 5.0/3600)
		} else if d.Up != (c.month == 6) || d.Down != (c.month == 12) {
			t.Errorf("%s: %+v on a polar day", c.name, d)
		}
	}
}

// Nothing is lost at the poles, on any day, and the hemispheres mirror: the sun of a place is that of its antipode's
// latitude with the declination turned, north for south.
func TestPolesAndHemispheres(t *testing.T) {
	for _, lat := range []float64{90, -90, 89.9, 66.56, 0, -66.56} {
		for day := 1; day <= 365; day += 7 {
			d := Of(Place{Lat: lat}, Date{2026, 1, day})
			if l := d.Length(); math.IsNaN(l) || l < 0 || l > 24 {
				t.Fatalf("%v on day %d: %+v", lat, day, d)
			}
			if s := At(Place{Lat: lat}, Date{2026, 1, day}, 9); math.IsNaN(s.Altitude + s.Azimuth) {
				t.Fatalf("%v on day %d: %+v", lat, day, s)
			}
		}
	}
	r := rand.New(rand.NewPCG(1, 2))
	for range 500 {
		lat, dec, angle := r.Float64()*120-60, r.Float64()*46-23, r.Float64()*300-150
		alt, az := over(lat, dec, angle)
		alt2, az2 := over(-lat, -dec, angle)
		near(t, "mirrored height", alt2, alt, 1e-9)
		near(t, "mirrored bearing", math.Mod(az2-(180-az)+720, 360), 0, 1e-6)
	}
}

// over is height and bearing at a latitude, a declination and an hour angle.
func over(lat, dec, angle float64) (alt, az float64) {
	la, de, an := rad(lat), rad(dec), rad(angle)
	alt = deg(math.Asin(math.Sin(la)*math.Sin(de) + math.Cos(la)*math.Cos(de)*math.Cos(an)))
	return alt, 180 + deg(math.Atan2(math.Sin(an), math.Cos(an)*math.Sin(la)-math.Tan(de)*math.Cos(la)))
}

// raysOf are the ways to the sun of a day of a declination, minute by minute.
func raysOf(lat, dec float64) (rays []Ray) {
	for m := 0.5; m < 1440; m++ {
		if alt, az := over(lat, dec, m/4-180); alt > 0 {
			r := Towards(Position{Altitude: alt, Azimuth: az}, 0)
			r.Hours = 1.0 / 60
			rays = append(rays, r)
		}
	}
	return rays
}

// Hours at a spot beside a wall without ends, by its horizon: for a wall on the equator's side at h/d the sun is
// cut off as at the latitude + atan(h/d); worked by hand for three latitudes and checked by integration (REFERENCE).
func TestHoursBesideWalls(t *testing.T) {
	const far, thin = 1e5, 1e-3
	south := func(d float64) Thing { return Thing{X0: -far, X1: far, Y0: -d - thin, Y1: -d, Top: 1} }
	north := func(d float64) Thing { return Thing{X0: -far, X1: far, Y0: d, Y1: d + thin, Top: 1} }
	east := func(d float64) Thing { return Thing{X0: d, X1: d + thin, Y0: -far, Y1: far, Top: 1} }
	short := Thing{X0: -2, X1: 2, Y0: -6 - thin, Y1: -6, Top: 3}
	for _, c := range []struct {
		name   string
		lat    float64
		things []Thing
		want   [3]float64 // June, equinox, December
	}{
		{"open at 40", 40, nil, [3]float64{14.84, 12, 9.16}},
		{"south, d = h", 40, []Thing{south(1)}, [3]float64{14.84, 12, 0}},
		{"south, d = 3h", 40, []Thing{south(3)}, [3]float64{14.84, 12, 6.02}},
		{"south, d = 4h", 40, []Thing{south(4)}, [3]float64{14.84, 12, 7.11}},
		{"south, d = h/2", 40, []Thing{south(0.5)}, [3]float64{14.84, 0, 0}},
		{"east, d = h", 40, []Thing{east(1)}, [3]float64{10.77, 8.50, 6.23}},
		{"north, d = h", 40, []Thing{north(1)}, [3]float64{11.71, 12, 9.16}},
		{"4 m by 3 m, 6 m south", 40, []Thing{short}, [3]float64{14.84, 12, 6.72}},
		{"open at 51.5", 51.5, nil, [3]float64{16.40, 12, 7.60}},
		{"south, d = 4h, 51.5", 51.5, []Thing{south(4)}, [3]float64{16.40, 12, 2.35}},
		{"south, d = h/2, 51.5", 51.5, []Thing{south(0.5)}, [3]float64{13.575, 0, 0}},
		{"east, d = h, 51.5", 51.5, []Thing{east(1)}, [3]float64{11.44, 8.13, 4.81}},
		{"open at 33.9 south", -33.9, nil, [3]float64{9.75, 12, 14.25}},
		{"north, d = 2h, 33.9 south", -33.9, []Thing{north(2)}, [3]float64{5.35, 12, 14.25}},
		{"south, d = h, 33.9 south", -33.9, []Thing{south(1)}, [3]float64{9.75, 12, 11.35}},
	} {
		for k, dec := range []float64{23.44, 0, -23.44} {
			got := Hours(Spot{}, raysOf(c.lat, dec), c.things)
			near(t, c.name, got, c.want[k], 0.06)
		}
	}
}

// The tip of a shadow lies where it was worked by hand: height / tan(altitude), away from the sun (REFERENCE).
func TestShadows(t *testing.T) {
	for _, c := range [][5]float64{{1.8, 30, 135, -2.205, 2.205}, {1.8, 59.483, 150.98, -0.515, 0.928},
		{1.8, 15.114, 180.34, 0.040, 6.665}, {1.8, 12.771, 222.96, 5.412, 5.812}, {1.8, 32.714, 359.15, 0.042, -2.802}} {
		r := Towards(Position{Altitude: c[1], Azimuth: c[2]}, 0)
		near(t, "east", -r.DX*c[0]/r.Rise, c[3], 0.002)
		near(t, "north", -r.DY*c[0]/r.Rise, c[4], 0.002)
		near(t, "long", Position{Altitude: c[1]}.Shadow(c[0]), math.Hypot(c[3], c[4]), 0.003)
		post := Thing{X0: -0.02, X1: 0.02, Y0: -0.02, Y1: 0.02, Top: c[0]}
		if Light(Spot{X: c[3] * 0.99, Y: c[4] * 0.99}, r, []Thing{post}) != 0 ||
			Light(Spot{X: c[3] * 1.03, Y: c[4] * 1.03}, r, []Thing{post}) != 1 {
			t.Errorf("the shadow of %v ends elsewhere", c)
		}
		turned := Towards(Position{Altitude: c[1], Azimuth: c[2]}, 90) // north to the right: east is down
		near(t, "turned, right", turned.DX, r.DY, 1e-9)
		near(t, "turned, up", turned.DY, -r.DX, 1e-9)
	}
	round := Thing{X0: 0, Y0: -5, Radius: 1, Bottom: 2, Top: 4, Trunk: 0.1, Bare: [2]int{12, 3}, LetsWhenBare: 0.6}
	for _, c := range []struct{ x, rise, want float64 }{
		{0, 0.6, 0}, {0, 0.3, 0}, {0.5, 0.3, 1}, {0.5, 0.6, 0}, {1.5, 0.6, 1}, {0, 1.2, 1}} {
		near(t, "light by a tree", Light(Spot{X: c.x}, Ray{DY: -1, Rise: c.rise, Month: 6}, []Thing{round}), c.want, 0)
	}
	near(t, "bare", Light(Spot{}, Ray{DY: -1, Rise: 0.6, Month: 1}, []Thing{round}), 0.6, 1e-9)
}

// A map says of each cell what its middle says, over random gardens.
func TestMapIsItsCells(t *testing.T) {
	r := rand.New(rand.NewPCG(7, 7))
	for range 30 {
		var things []Thing
		for range 1 + r.IntN(4) {
			x, y := r.Float64()*12-2, r.Float64()*10-2
			things = append(things, Thing{X0: x, X1: x + r.Float64()*4, Y0: y, Y1: y + r.Float64()*3, Top: r.Float64() * 4,
				Bottom: r.Float64() * 0.5, Lets: float64(r.IntN(2)) / 3})
			if r.IntN(3) == 0 {
				things[len(things)-1].Radius = 0.5 + r.Float64()
				things[len(things)-1].Trunk = 0.1
			}
		}
		rays := Season(Place{Lat: r.Float64()*130 - 65}, MidMonths(2026, 3, 6, 12), 1, r.Float64()*360, 0)
		var heights []float64
		for range 63 {
			heights = append(heights, float64(r.IntN(2))*0.4)
		}
		m := MapOf(8, 6, 9, 7, heights, rays, things)
		for j := range 7 {
			for i := range 9 {
				near(t, "cell", m.Hours[j*9+i], Hours(m.middle(i, j), rays, things), 1e-9)
			}
		}
	}
}

// A plot of 40 by 40 spots through a season, twelve days by the quarter hour.
func BenchmarkMap(b *testing.B) {
	p := Place{Lat: 51.5, Zone: 1}
	var days []Date
	for m := 1; m <= 12; m++ {
		days = append(days, Date{2026, m, 21})
	}
	things := []Thing{{X0: 0, X1: 8, Y0: 6, Y1: 6.1, Top: 1.8}, {X0: 0, X1: 0.1, Y0: 0, Y1: 6, Top: 1.8},
		{X0: 6, Y0: 1, Radius: 1.5, Bottom: 1.5, Top: 5, Trunk: 0.15}, {X0: 2, X1: 4.4, Y0: 2, Y1: 3.2, Top: 0.5}}
	for b.Loop() {
		MapOf(8, 6, 40, 40, nil, Season(p, days, 0.25, 0, 0), things)
	}
}

var places = []struct {
	name                string
	lat, lon, zone      float64
	month, day          int
	hour, dec, equation float64
	alt, seen, az       float64
	rise, noon, set     float64
}{
	{"London", 51.5074, -0.1278, 1, 6, 21, 12, 23.438, -1.815, 59.47, 59.483, 150.98, 4.71806, 13.03889, 21.35972},
	{"London", 51.5074, -0.1278, 0, 12, 21, 12, -23.437, 1.923, 15.05, 15.114, 180.34, 8.06250, 11.97639, 15.89028},
	{"London", 51.5074, -0.1278, 0, 3, 20, 9, -0.093, -7.470, 25.04, 25.075, 126.18, 6.05611, 12.13250, 18.22528},
	{"New York", 40.7128, -74.0060, -4, 6, 21, 10, 23.438, -1.842, 49.09, 49.105, 101.06, 5.41694, 12.96500, 20.51278},
	{"New York", 40.7128, -74.0060, -5, 12, 21, 15, -23.438, 1.758, 12.70, 12.771, 222.96, 7.27639, 11.90333, 16.53028},
	{"New York", 40.7128, -74.0060, -4, 4, 15, 8.5, 9.881, -0.018, 24.18, 24.214, 97.94, 6.28639, 12.93333, 19.59222},
	{"Seattle", 47.6062, -122.3321, -7, 6, 21, 18, 23.436, -1.942, 28.88, 28.912, 273.98, 5.19306, 13.18722, 21.18083},
	{"Seattle", 47.6062, -122.3321, -8, 12, 21, 12, -23.438, 1.758, 18.94, 18.982, 178.16, 7.91361, 12.12611, 16.33889},
	{"Denver", 39.7392, -104.9903, -6, 5, 1, 16, 15.294, 2.945, 43.33, 43.350, 251.77, 6.00556, 12.95056, 19.90611},
	{"Chicago", 41.8781, -87.6298, -6, 12, 21, 9, -23.438, 1.861, 13.94, 14.000, 140.61, 7.24722, 11.81194, 16.37639},
	{"Chicago", 41.8781, -87.6298, -5, 9, 22, 12, 0.116, 7.334, 47.12, 47.131, 164.02, 6.63444, 12.71944, 18.79306},
	{"Berlin", 52.5200, 13.4050, 2, 6, 21, 17, 23.438, -1.851, 37.73, 37.753, 259.48, 4.71806, 13.13667, 21.55500},
	{"Dublin", 53.3498, -6.2603, 1, 6, 21, 20, 23.437, -1.888, 13.91, 13.971, 290.71, 4.94444, 13.44778, 21.95111},
	{"Toronto", 43.6532, -79.3832, -4, 8, 15, 14, 13.873, -4.452, 59.13, 59.135, 198.20, 6.37028, 13.36639, 20.34972},
	{"Houston", 29.7604, -95.3698, -6, 2, 1, 12, -16.944, -13.612, 42.54, 42.554, 168.58, 7.18778, 12.58500, 17.98750},
	{"Sydney", -33.8688, 151.2093, 11, 12, 22, 12, -23.438, 1.654, 74.32, 74.328, 51.78, 5.68556, 12.89222, 20.09861},
	{"Sydney", -33.8688, 151.2093, 10, 6, 21, 12, 23.438, -1.734, 32.69, 32.714, 359.15, 6.99917, 11.94833, 16.89722},
	{"Sydney", -33.8688, 151.2093, 10, 10, 1, 15, -3.190, 10.234, 35.27, 35.293, 293.12, 5.54778, 11.74944, 17.96028},
	{"Melbourne", -37.8136, 144.9631, 10, 6, 21, 9, 23.438, -1.706, 12.56, 12.636, 46.46, 7.59361, 12.36472, 17.13583},
	{"Melbourne", -37.8136, 144.9631, 11, 12, 22, 18, -23.437, 1.531, 29.19, 29.215, 261.77, 5.91389, 13.30861, 20.70361},
	{"Auckland", -36.8485, 174.7633, 13, 12, 22, 13, -23.438, 1.675, 75.96, 75.967, 18.52, 5.97472, 13.32139, 20.66806},
	{"Hobart", -42.8821, 147.3272, 11, 3, 20, 10, -0.257, -7.593, 28.57, 28.601, 60.08, 7.21083, 13.30417, 19.38500},
	{"Cape Town", -33.9249, 18.4241, 2, 12, 21, 9, -23.437, 2.026, 40.31, 40.330, 93.32, 5.53028, 12.73917, 19.94833},
	{"Singapore", 1.3521, 103.8198, 8, 3, 20, 13, -0.159, -7.519, 86.59, 86.588, 116.25, 7.15000, 13.20389, 19.25806},
	{"Singapore", 1.3521, 103.8198, 8, 6, 21, 13, 23.438, -1.761, 67.86, 67.865, 3.95, 7.00750, 13.10806, 19.20861},
	{"Quito", -0.1807, -78.4678, -5, 9, 22, 12, 0.116, 7.334, 88.34, 88.339, 79.71, 6.05500, 12.10889, 18.16306},
	{"Nairobi", -1.2921, 36.8219, 3, 12, 21, 16, -23.437, 1.902, 34.75, 34.769, 242.06, 6.41222, 12.51222, 18.61222},
	{"Oslo", 59.9139, 10.7522, 2, 6, 21, 3, 23.438, -1.725, -4.11, -4.025, 23.17, 3.89528, 13.31361, 22.73139},
	{"Oslo", 59.9139, 10.7522, 1, 12, 21, 12, -23.437, 1.944, 6.59, 6.720, 176.53, 9.30167, 12.25083, 15.20000},
	{"Edinburgh", 55.9533, -3.1883, 0, 11, 1, 11, -14.508, 16.468, 18.55, 18.601, 165.62, 7.32361, 11.93806, 16.53889},
	{"Tromso", 69.6492, 18.9553, 2, 6, 21, 0, 23.437, -1.697, 3.45, 3.662, 349.47, 0, 12.76667, 0},
	{"Tromso", 69.6492, 18.9553, 1, 12, 21, 12, -23.437, 1.944, -3.14, -3.036, 184.08, 0, 11.70389, 0},
}
