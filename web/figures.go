package web

import (
	"crypto/rand"
	"encoding/hex"
	"errors"
	"log/slog"
	"net/http"
	"strconv"
	"time"

	"github.com/gin-gonic/gin"
	"github.com/prometheus/client_golang/prometheus"
	"github.com/prometheus/client_golang/prometheus/collectors"
	"github.com/prometheus/client_golang/prometheus/promhttp"

	"chamfer/store"
)

// figures are what the program counts of itself, in the form that Prometheus reads. Nothing of anybody's is among them:
// what is asked for is told by its kind of page, not by its address.
type figures struct {
	registry *prometheus.Registry
	took     *prometheus.HistogramVec
	panics   prometheus.Counter
}

func newFigures(s *Server) *figures {
	f := &figures{registry: prometheus.NewRegistry(),
		took: prometheus.NewHistogramVec(prometheus.HistogramOpts{Name: "chamfer_request_seconds",
			Help:    "How long requests took, by kind of page, method and status.",
			Buckets: []float64{.005, .01, .025, .05, .1, .25, .5, 1, 1.5, 2.5, 5, 10}}, []string{"page", "method", "status"}),
		panics: prometheus.NewCounter(prometheus.CounterOpts{Name: "chamfer_panics_total",
			Help: "Requests that ended in a panic, whose stack is in the log."})}
	gauge := func(name, help string, of func() float64) prometheus.Collector {
		return prometheus.NewGaugeFunc(prometheus.GaugeOpts{Name: name, Help: help}, of)
	}
	f.registry.MustRegister(collectors.NewGoCollector(),
		collectors.NewProcessCollector(collectors.ProcessCollectorOpts{}), f.took, f.panics,
		gauge("chamfer_kept_plan_bytes", "What the plans that are kept take.", func() float64 { return s.plans.held() }),
		gauge("chamfer_kept_page_bytes", "What the pages that are kept take.", func() float64 { return s.shown.held() }),
		gauge("chamfer_log_behind", "How many changes of the shared log are known and not in the file yet.",
			func() float64 {
				behind, _ := s.store.Shared()
				return float64(behind)
			}),
		gauge("chamfer_last_good_copy_seconds", "When the last good copy was made, since 1970; 0 for never.",
			func() float64 {
				if c, ok := store.LastGood(s.store.Path()); ok {
					return float64(c.Made.Unix())
				}
				return 0
			}))
	return f
}

// panicked counts a request that ended in a panic.
func (f *figures) panicked() {
	if f != nil {
		f.panics.Inc()
	}
}

// Figures answers with what the program counts of itself.
func (s *Server) Figures() http.Handler {
	return promhttp.HandlerFor(s.figures.registry, promhttp.HandlerOpts{})
}

// requestKey is the number of a request, by which the log speaks of it.
const requestKey = "request"

// counted gives each request a number, and counts it. With LogRequests each is told in the log.
func (s *Server) counted(c *gin.Context) {
	raw := make([]byte, 6)
	_, _ = rand.Read(raw) // never fails
	id := hex.EncodeToString(raw)
	c.Set(requestKey, id)
	c.Header("X-Request-Id", id)
	began := time.Now()
	c.Next()
	took := time.Since(began)
	page := c.FullPath()
	if page == "" {
		page = "none"
	}
	s.figures.took.WithLabelValues(page, c.Request.Method, strconv.Itoa(c.Writer.Status())).Observe(took.Seconds())
	if s.door.LogRequests {
		s.logOf(c).Info("answered", "method", c.Request.Method, "path", pathOf(c), "status", c.Writer.Status(), "bytes",
			max(0, c.Writer.Size()), "ms", took.Milliseconds())
	}
}

// logOf is the log, with the number of a request.
func (s *Server) logOf(c *gin.Context) *slog.Logger {
	if id := c.GetString(requestKey); id != "" {
		return s.log.With("request", id)
	}
	return s.log
}

// alive says that the program answers.
func alive(c *gin.Context) { c.String(http.StatusOK, "ok\n") }

// ready says whether it can do its work: read the file of projects, and not be about to stop.
func (s *Server) ready(c *gin.Context) {
	err := errors.Join(s.store.Ready(), s.store.InTouch())
	if err == nil && s.ending.Load() {
		err = errors.New("it is about to stop")
	}
	if err != nil {
		s.logOf(c).Error("ready", "err", err)
		c.String(http.StatusServiceUnavailable, "not ready: the file of projects cannot be read, it is about to stop, or it"+
			" has lost touch with the others that share its log\n")
		return
	}
	c.String(http.StatusOK, "ok\n")
}
