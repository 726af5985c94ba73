package web

// groundStage is what is done below the bed.
var groundStage = stage{Key: "ground", Name: "Ground", About: "What is done below the bed",
	Draws: (*benchPage).bedDrawing}
