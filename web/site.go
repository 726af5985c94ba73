package web

// siteStage is where the beds stand and who reaches in.
var siteStage = stage{Key: "site", Name: "Site", About: "Where it stands and who reaches in", Decides: true,
	Draws: (*benchPage).plot}
