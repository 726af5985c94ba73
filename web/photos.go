package web

import (
	"context"
	"errors"
	"fmt"
	"io"
	"net/http"
	"slices"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"chamfer/core/design"
	"chamfer/core/record"
	"chamfer/core/work"
	"chamfer/photo"
	"chamfer/store"
)

// photosPath is where a photo is sent to; it may be larger than other forms.
const photosPath = "/photos"

// mostCaption is how long what is written below a photo may be.
const mostCaption = 200

type photoView struct {
	ID            int64
	Key           string
	Link          string
	Caption, Of   string
	Width, Height int
}

// photosOf are a project's, or those of one step.
func (s *Server) photosOf(ctx context.Context, b *benchPage, step string) (list []photoView, err error) {
	kept, err := s.store.Photos(ctx, b.ID, false)
	for _, p := range kept {
		if step != "" && p.Key != step {
			continue
		}
		v := photoView{ID: p.ID, Key: p.Key, Link: fmt.Sprintf("/p/%d/photo/%d", b.ID, p.ID), Caption: p.Caption,
			Width:  p.Width,
			Height: p.Height}
		if i := slices.IndexFunc(b.Plan.Steps, func(st work.Step) bool { return st.ID == p.Key }); i >= 0 {
			v.Of = fmt.Sprintf("%d %s", i+1, b.Plan.Steps[i].Title)
		} else if of, year, ok := grownOf(p.Key); ok {
			if bed, err := b.Plan.Design.Bed(of); err == nil {
				v.Of = bed.Name + ", " + year
			}
		}
		list = append(list, v)
	}
	return list, err
}

// photos takes in a photo of a step, or takes one away.
func (s *Server) photos(c *gin.Context) {
	p, pl, ok := s.planned(c)
	if !ok {
		return
	}
	w := s.where(c, p, c.PostForm)
	w.Stage = cmpOr(c.PostForm("stage"), "build")
	w.Step = cmpOr(c.PostForm("step"), w.Step)
	if id, err := strconv.ParseInt(c.PostForm("drop"), 10, 64); err == nil {
		if err := s.store.DropPhoto(p.ID, id); err != nil {
			s.trouble(c, err)
			return
		}
		s.did(c, "a photo was taken away")
		s.again(c, w)
		return
	}
	caption := strings.TrimSpace(c.PostForm("caption"))
	kept, err := taken(c)
	if err == nil && (len([]rune(caption)) > mostCaption || caption != "" && !design.Visible(caption)) {
		err = fmt.Errorf("up to %d letters on one line go below a photo", mostCaption)
	}
	if err == nil {
		err = s.store.AddPhotos(p.ID, store.Photo{Key: w.Step, Caption: caption, Width: kept.Width, Height: kept.Height,
			Body: kept.JPEG})
		if isFull(err) {
			err = fmt.Errorf("%d photos are kept here already, which is all there is room for: take one away first",
				store.MostPhotos)
		} else if err != nil {
			s.trouble(c, err)
			return
		}
	}
	if err != nil {
		s.showBench(c, http.StatusUnprocessableEntity, p, pl.Shop, w, 0, refused{
			values: map[string]string{"caption": caption}, reasons: map[string]string{"photo": err.Error()}})
		return
	}
	s.did(c, "a photo was taken in")
	s.again(c, w)
}

// taken reads the photo of a form.
func taken(c *gin.Context) (photo.Kept, error) {
	file, _, err := c.Request.FormFile("photo")
	if err != nil {
		return photo.Kept{}, errors.New("no photo was chosen: JPEG and PNG work")
	}
	raw, err := io.ReadAll(io.LimitReader(file, photo.MostBytes+1))
	if err = errors.Join(err, file.Close()); err != nil {
		return photo.Kept{}, errors.New("the photo could not be read to its end")
	}
	return photo.Take(raw)
}

// photo serves one.
func (s *Server) photo(c *gin.Context) {
	p, _, ok := s.project(c)
	if !ok {
		return
	}
	id, _ := strconv.ParseInt(c.Param("photo"), 10, 64)
	kept, found, err := s.store.Photo(asked(c), p.ID, id)
	switch {
	case err != nil:
		s.trouble(c, err)
	case !found:
		s.fault(c, http.StatusNotFound, "There is no such photo.", "The Log has all that are kept.")
	default:
		c.Data(http.StatusOK, "image/jpeg", kept.Body)
	}
}

// photosInFile are a project's photos as they go with its file.
func (s *Server) photosInFile(ctx context.Context, project int64) (list []record.Photo, err error) {
	kept, err := s.store.Photos(ctx, project, true)
	for _, p := range kept {
		list = append(list, record.Photo{Step: p.Key, Caption: p.Caption, At: p.At, JPEG: p.Body})
	}
	return list, err
}

// photosFrom are those of a file, encoded anew: whatever else came with them is left behind.
func photosFrom(list []record.Photo) (kept []store.Photo, err error) {
	for i, p := range list {
		k, err := photo.Take(p.JPEG)
		if err != nil {
			return nil, fmt.Errorf("photos.%d: %w", i, err)
		}
		kept = append(kept, store.Photo{Key: p.Step, Caption: p.Caption, At: p.At, Width: k.Width, Height: k.Height,
			Body: k.JPEG})
	}
	return kept, nil
}
