package design

import (
	"fmt"
	"maps"
	"slices"
	"strings"

	"chamfer/core/catalog"
	"chamfer/core/measure"
	"chamfer/core/planting"
)

// mostCrops is how many crops of its own a project holds, mostCropText how many letters tell of one.
const (
	mostCrops    = 300
	mostCropText = 2500
	mostCropsCSV = 400_000
)

// CropTable is the crops that can be grown: those that are known and the project's own.
func (d Design) CropTable(s measure.System) planting.Table { return planting.TableOf(s, d.Crops) }

// setCrop changes a crop or, with the key "new", writes a new one down; nothing said takes it back. The text is read as
// [planting.ReadCrop] does; that of a new one may begin with "like=" and the ID of another that it starts from.
func (d *Design) setCrop(id, text string, cat *catalog.Catalog) error {
	text = strings.TrimSpace(text)
	table := d.CropTable(cat.System)
	c, known := table.Named(id)
	switch {
	case text == "":
		if _, own := d.Crops[id]; !own {
			return fmt.Errorf("there is no crop %q of your own", id)
		}
		d.Crops = maps.Clone(d.Crops)
		delete(d.Crops, id)
		return nil
	case id == "new":
		c = planting.Crop{Kind: "veg", Source: "as you told of it"}
		if like, found := strings.CutPrefix(text, "like="); found {
			like, text, _ = strings.Cut(like, ";")
			if c, known = table.Named(strings.TrimSpace(like)); !known {
				return fmt.Errorf("%q is no crop that another could be like", like)
			}
			c.Source = "as you told of it; else as " + c.Name + ": " + c.Source
		}
		c.ID, c.Name, c.Note = id, id, ""
	case !known:
		return fmt.Errorf("there is no crop %q", id)
	}
	c, err := planting.ReadCrop(c, text, cat.System)
	if err != nil {
		return err
	}
	if id == "new" {
		if id = catalog.Slug(c.Name); id == "" || id == "new" || len(id) > 40 {
			return fmt.Errorf("it needs a name of its own first, of up to 40 letters")
		}
		if was, taken := table.Named(id); taken {
			return fmt.Errorf("there is a crop called %s already: change that one", was.Name)
		}
	}
	if d.Crops = maps.Clone(d.Crops); d.Crops == nil {
		d.Crops = map[string]string{}
	}
	d.Crops[id] = c.Text()
	return nil
}

// readCrops takes a table of crops in: those that are as they are known change nothing.
func (d *Design) readCrops(text string, cat *catalog.Catalog) error {
	if len(text) > mostCropsCSV {
		return fmt.Errorf("a table of crops of more than %d letters is not read", mostCropsCSV)
	}
	list, err := planting.ReadCrops(strings.NewReader(text), cat.System)
	if err != nil {
		return err
	}
	own := maps.Clone(d.Crops)
	if own == nil {
		own = map[string]string{}
	}
	known := planting.TableOf(cat.System, nil)
	for _, c := range list {
		if was, ok := known.Named(c.ID); ok && was.Text() == c.Text() {
			delete(own, c.ID)
			continue
		}
		own[c.ID] = c.Text()
	}
	if d.Crops = own; len(own) == 0 {
		d.Crops = nil
	}
	return nil
}

// crops refuses crops of one's own that cannot be read.
func (c *checker) crops(d Design) {
	c.table = d.CropTable(c.cat.System)
	if len(d.Crops) > mostCrops {
		c.refuse("", "crops", "more than %d crops of one's own", mostCrops)
	}
	for _, id := range slices.Sorted(maps.Keys(d.Crops)) {
		text, field := d.Crops[id], "crop:"+id
		switch crop, err := planting.ReadCrop(planting.Crop{ID: id}, text, measure.Metric); {
		case id == "" || len(id) > 40 || strings.Trim(id, "abcdefghijklmnopqrstuvwxyz0123456789-_") != "":
			c.refuse("", field, "a crop's id is up to 40 small letters, digits and dashes, such as lane-bean")
		case len(text) > mostCropText || !Visible(text):
			c.refuse("", field, "up to %d letters on one line work", mostCropText)
		case err != nil:
			c.refuse("", field, "%v", err)
		case len([]rune(crop.Name)) > MaxName:
			c.refuse("", field, "the name is too long; up to %d letters will do", MaxName)
		}
	}
}
