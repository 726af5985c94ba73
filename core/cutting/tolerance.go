package cutting

// The linear program is reckoned in floating point, of prices in cents and numbers of boards
// up to some thousands; what is claimed from it is reckoned again in whole numbers, in
// [group.cents] and what calls it, so that none of these makes a claim wider. What counts as
// what:
const (
	tiny    = 1e-7  // a price of a row that is wrong by less is right
	finest  = 1e-6  // a filling has to save so much to be of use, or the same come in without end
	coarse  = 1e-13 // and so much for each unit of the largest price: floating point is no finer
	ties    = 1e-8  // is added to rows, by turns, so that ties are few
	pivotal = 1e-9  // a number that is smaller is not divided by
	tie     = 1e-12 // ratios that differ by less are the same, and the larger pivot is taken
	wholly  = 1e-6  // a number of fillings that is off by less is whole
	roundly = 1e-5  // and for a dive, which only has to find a plan
	uneven  = 1e-4  // a number of boards that is off by more is split on
	over    = 1e-9  // bounds by parts are raised by so much, so that rounding makes none too low
)
