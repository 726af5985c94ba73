package web

import (
	"bytes"
	"image"
	"image/color"
	_ "image/png"
	"io"
	"log/slog"
	"net/http/httptest"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/go-rod/rod/lib/proto"
	"github.com/makiuchi-d/gozxing"
	"github.com/makiuchi-d/gozxing/qrcode"

	"chamfer/store"
)

// decoded is what a reader of another make (gozxing, a port of the usual one) finds in a picture.
func decoded(t *testing.T, img image.Image) string {
	t.Helper()
	bits, err := gozxing.NewBinaryBitmapFromImage(img)
	if err != nil {
		t.Fatal(err)
	}
	found, err := qrcode.NewQRCodeReader().Decode(bits, nil)
	if err != nil {
		return err.Error()
	}
	return found.GetText()
}

// The page for phones, as a phone shows it: its code is read as the address that another machine opens, never as a
// loopback one; the authority's fingerprint, what trusting it means and its certificate are there, and nothing of
// that is said where there is none. The code for a terminal is read as well, light on dark.
func TestPhone(t *testing.T) {
	b := browser(t)
	s, err := store.Open(filepath.Join(t.TempDir(), "beds.db"))
	if err != nil {
		t.Fatal(err)
	}
	defer s.Close()
	h, err := New(s, slog.New(slog.NewTextHandler(io.Discard, nil)), Door{Network: true})
	if err != nil {
		t.Fatal(err)
	}
	server := httptest.NewServer(h)
	defer server.Close()
	defer h.End()
	const at = "https://192.168.7.31:8420"
	way := WayIn{Addresses: []string{"https://127.0.0.1:8420", at}, Secure: true, Authority: []byte("-----BEGIN"),
		Fingerprint: strings.TrimSuffix(strings.Repeat("A1:", 32), ":"), Until: time.Date(2036, 12, 1, 0, 0, 0, 0, time.UTC)}
	h.Reached(way)
	site := &site{Server: server, store: s, t: t, h: h}
	p := site.tab(b, "/phone", 390, 844)
	text := p.MustElement("main").MustText()
	for _, want := range []string{at, "A1:A1:A1:A1:A1:A1:A1:A1", "1 December 2036", "What that means",
		"Nobody has an account"} {
		if !strings.Contains(text, want) {
			t.Errorf("it does not say %q", want)
		}
	}
	if bad := p.violations(); len(bad) > 0 {
		t.Errorf("%v", bad)
	}
	raw, err := p.MustElement("svg.code").Screenshot(proto.PageCaptureScreenshotFormatPng, 0)
	if err != nil {
		t.Fatal(err)
	}
	img, _, err := image.Decode(bytes.NewReader(raw))
	if err != nil {
		t.Fatal(err)
	}
	if got := decoded(t, img); got != at {
		t.Errorf("its code says %q", got)
	}
	if got := decoded(t, shown(way.Printed())); got != at {
		t.Errorf("the printed code says %q", got)
	}
	h.Reached(WayIn{Addresses: []string{"http://127.0.0.1:8420"}})
	page, _ := site.get("/phone")
	if _, code := site.get("/phone/authority.crt"); code != 404 || strings.Contains(page, "Fingerprint") ||
		!strings.Contains(page, "for this machine alone") || (WayIn{Addresses: []string{"http://[::1]:1"}}).Printed() != "" {
		t.Errorf("on loopback: status %d, %s", code, page)
	}
}

// shown is how a terminal with a dark ground shows a printed code.
func shown(code string) image.Image {
	lines := strings.Split(strings.TrimSuffix(code, "\n"), "\n")
	const px = 8
	img := image.NewGray(image.Rect(0, 0, (len([]rune(lines[0]))+4)*px, (2*len(lines)+4)*px))
	for y, line := range lines {
		for x, r := range []rune(line) {
			for half, on := range []bool{strings.ContainsRune("█▀", r), strings.ContainsRune("█▄", r)} {
				for k := range px * px {
					if on {
						img.SetGray((x+2)*px+k%px, (2*y+half+2)*px+k/px, color.Gray{255})
					}
				}
			}
		}
	}
	return img
}
