package web

// frameStage is what a bed is built of and how.
var frameStage = stage{Key: "frame", Name: "Frame", About: "Boards or blocks, corners, cap", Decides: true,
	Draws: (*benchPage).bedDrawing, Fields: (*benchPage).measured}
