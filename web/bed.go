package web

// bedStage is how much planting there is, and how deep.
var bedStage = stage{Key: "bed", Name: "Bed", About: "How much planting, how deep", Decides: true,
	Draws: (*benchPage).bedDrawing}
