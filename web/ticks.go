package web

import (
	"errors"
	"io"
	"net/http"
	"strings"

	"github.com/gin-gonic/gin"

	"chamfer/export"
)

// ticks takes over what was ticked on a saved build sheet, by the code it shows or the file it saves.
func (s *Server) ticks(c *gin.Context) {
	p, pl, ok := s.planned(c)
	if !ok {
		return
	}
	w := s.where(c, p, c.PostForm)
	w.Stage = "build"
	typed := strings.TrimSpace(c.PostForm("code"))
	if file, _, err := c.Request.FormFile("file"); err == nil && typed == "" {
		raw, err := io.ReadAll(io.LimitReader(file, maxForm))
		if err = errors.Join(err, file.Close()); err == nil {
			typed = strings.ToValidUTF8(string(raw), "")
		}
	}
	done, err := export.ReadTicks(pl, typed)
	if err != nil {
		s.showBench(c, http.StatusUnprocessableEntity, p, pl.Shop, w, 0, refused{
			values: map[string]string{"code": typed}, reasons: map[string]string{"code": err.Error()}})
		return
	}
	if err := s.store.Tick(p.ID, ticked(pl, done)...); err != nil {
		s.trouble(c, err)
		return
	}
	s.did(c, "ticks of a build sheet were taken over")
	if !scripted(c) {
		c.Redirect(http.StatusSeeOther, w.Link())
		return
	}
	s.benchOf(c, http.StatusOK, p, pl.Shop, w, 0, refused{}, pl)
}
