package web

import "chamfer/core/catalog"

// siteStage is where the beds stand and who reaches in.
var siteStage = stage{Key: "site", Name: "Site", About: "Where it stands and who reaches in", Decides: true,
	Tells: []string{"beds-overlap", "off-plot", "path-narrow"}, Draws: (*benchPage).plot, Under: "stands",
	Caption: "the plot from above", Saves: "plot.svg"}

// Elsewhere are the regions that a project can be moved to.
func (b *benchPage) Elsewhere() (list []*catalog.Catalog) {
	for _, c := range catalog.Regions() {
		if c.ID != b.Plan.Design.Region {
			list = append(list, c)
		}
	}
	return list
}
