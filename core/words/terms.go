package words

// Term is a word of the trade and what it means, in one sentence for someone who has never heard it.
type Term struct{ Word, Means string }

// Terms are the words of the trade that plans, steps and lists use, in order.
func Terms() []Term {
	return []Term{
		{"apron", "A board below the walls of a planter, from leg to leg: it keeps the legs from racking."},
		{"batten", "A thin strip of wood, 1 x 2 in (25 x 50 mm) or near it, that holds something flat."},
		{"butt", "Two boards that meet with square ends, one against the other."},
		{"cap", "A board laid flat round the rim: it hides the ends, sheds rain and can be sat on."},
		{"cleat", "A short piece fixed across others, or along them, so that something can be screwed to it."},
		{"course", "One layer of boards or blocks round a bed; the lowest is course 1."},
		{"drainage stone", "Clean gravel behind a wall: water runs down in it instead of pushing."},
		{"end grain", "What a cut across a board shows, with the rings: screws hold poorly in it, and it drinks water."},
		{"flashing", "Thin metal or plastic on a roll, here bent into the two sides of a form for mortar."},
		{"freeboard", "How far the soil stays below the rim, so that water and mulch stay in."},
		{"half bond", "Every block lies over the joint of two below, half on each."},
		{"kerf", "What the saw turns to dust: as wide as its blade, lost at every cut."},
		{"lag", "A thick screw with a hexagonal head, turned in with a wrench through a washer."},
		{"ledger", "A strip fixed along the inside of a wall that a floor rests on."},
		{"lug", "A lip on the back of a wall block: it catches behind the block below and sets the next course back."},
		{"mid post", "An upright between the corners that keeps a long side from bowing."},
		{"mitre", "A joint cut at half the angle of the corner, so that no end shows."},
		{"offcut", "What is left of a board: long enough for something else, or waste."},
		{"pilot hole", "A hole a little thinner than the screw: it keeps the end of a board from splitting."},
		{"pocket hole", "A hole drilled at a slant from the back of a board into its end, so that no screw shows."},
		{"rip", "To saw along a board, making it narrower."},
		{"screed", "To draw a straight edge over sand along two rails, so that it lies flat and at one height."},
		{"stake", "A pointed piece driven into the ground, which the boards are screwed to."},
		{"stretcher", "A block or brick laid with its long side showing."},
	}
}
