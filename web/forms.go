package web

import (
	"errors"
	"fmt"
	"mime"
	"net"
	"net/http"
	"os"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"chamfer/export"
	"chamfer/photo"
)

// maxForm is the largest form read, in bytes; a file that is imported has its own limit.
const maxForm = 256 << 10

// importPath is where a file is sent to.
const importPath = "/import"

// forms reads every form there is, before anybody acts on it. What is too large, too
// slow, or no form is refused by name, and nothing is done with the part that came.
func (s *Server) forms(c *gin.Context) {
	if c.Request.Method != http.MethodPost {
		c.Request.Body = http.MaxBytesReader(c.Writer, c.Request.Body, 0)
		c.Next()
		return
	}
	most := int64(maxForm)
	switch {
	case c.Request.URL.Path == importPath:
		most = export.MaxFile + 64<<10
	case strings.HasSuffix(c.Request.URL.Path, photosPath):
		most = photo.MostBytes + 64<<10
	}
	c.Request.Body = http.MaxBytesReader(c.Writer, c.Request.Body, most)
	var err error
	kind, _, _ := mime.ParseMediaType(c.GetHeader("Content-Type"))
	switch kind {
	case "multipart/form-data":
		err = c.Request.ParseMultipartForm(most)
	case "application/x-www-form-urlencoded", "":
		if err = c.Request.ParseForm(); err == nil && kind == "" && c.Request.ContentLength > 0 {
			err = errors.New("it does not say what it is")
		}
	default:
		err = fmt.Errorf("it is %s", kind)
	}
	var large *http.MaxBytesError
	var slow net.Error
	switch {
	case err == nil:
		c.Next()
		return
	case errors.As(err, &large) && c.Request.URL.Path == importPath:
		s.projectList(
			c,
			http.StatusRequestEntityTooLarge,
			projectsPage{New: newForm{Region: "us"}, Import: export.ErrTooLarge.Error() + "."},
		)
	case errors.As(err, &large):
		s.fault(
			c,
			http.StatusRequestEntityTooLarge,
			"That was too much to read.",
			fmt.Sprintf(
				"A form may have up to %d kB, and this one has more. Nothing was changed: go back and send less at"+
					" a time.",
				maxForm>>10,
			),
		)
	case errors.As(err, &slow) && slow.Timeout(), errors.Is(err, os.ErrDeadlineExceeded):
		s.fault(
			c,
			http.StatusRequestTimeout,
			"That did not arrive in time.",
			"Nothing was changed: go back and send it again.",
		)
	default:
		s.fault(
			c,
			http.StatusBadRequest,
			"That form could not be read.",
			fmt.Sprintf("Nothing was changed: go back and send it again. (%.200v)", err),
		)
	}
	c.Abort()
}

// revision is the revision a form was made from, 0 where the project's head was lost.
// Where it does not say, it answers.
func (s *Server) revision(c *gin.Context) (int64, bool) {
	rev, err := strconv.ParseInt(c.PostForm("rev"), 10, 64)
	if err != nil || rev < 0 {
		s.fault(c, http.StatusBadRequest, "This form does not say which revision of the project it was made from.",
			"Nothing was changed, so that nothing is overwritten unseen: open the project again and change it there.")
		return 0, false
	}
	return rev, true
}
