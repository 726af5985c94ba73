package planes

// The program is reckoned in floating point, of numbers of columns up to some thousands and
// prices in cents. What counts as what:
const (
	nothing = 1e-11 // a coefficient that is left by rounding
	short   = 1e-7  // a row that falls short by less is kept
	pivotal = 1e-9  // a coefficient that is smaller is not divided by
	tie     = 1e-9  // ratios that differ by less are the same, and the larger pivot is taken
	cutsOff = 1e-4  // a plane has to cut off so much to be worth a row
	whole   = 1e-6  // a number that is off by less is whole
)
