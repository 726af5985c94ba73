package web

// fillStage is the soil: how much, and how it comes.
var fillStage = stage{Key: "fill", Name: "Fill", About: "Soil: how much, how it comes", Draws: (*benchPage).bedDrawing}
