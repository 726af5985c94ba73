// Package instrument reads what stands outside in the garden: a digital level, a watering timer,
// a moisture probe. They speak one plain protocol of lines over a socket, as a serial port does
// (docs/instruments.md):
//
//	-> MEAS*1A
//	<- M 1425.3 21400*65
//
// Every line ends in a star and two hexadecimal digits, the exclusive or of the bytes before the
// star, and a carriage return with a line feed. An answer that begins with E is a refusal.
package instrument

import (
	"bufio"
	"context"
	"errors"
	"fmt"
	"io"
	"net"
	"os"
	"strconv"
	"strings"
	"time"
)

// How long an instrument may take to be reached and to answer, and how often it is asked again
// where an answer is lost or spoilt.
const (
	dialTime  = 2 * time.Second
	replyTime = 3 * time.Second
	retries   = 2
	longest   = 200 // bytes of a line
)

// Faults of the line.
var (
	ErrAway    = errors.New("nothing answers there: is the instrument switched on, and its plug in?")
	ErrSilent  = errors.New("it did not answer in time: bring it nearer, or switch it off and on")
	ErrGarbled = errors.New("what it sends cannot be read: check the plug and the cable")
	ErrGone    = errors.New("it was unplugged while it was read: plug it in and read again")
)

// Refused is an instrument's own word that it cannot do what it was asked.
type Refused struct{ Code, Reason string }

func (r *Refused) Error() string { return r.Reason }

// line is an open line to an instrument.
type line struct {
	conn net.Conn
	in   *bufio.Reader
	wait time.Duration
}

func dial(ctx context.Context, addr string) (*line, error) {
	d := net.Dialer{Timeout: dialTime}
	conn, err := d.DialContext(ctx, "tcp", addr)
	if err != nil {
		return nil, ErrAway
	}
	return &line{conn, bufio.NewReaderSize(conn, longest), replyTime}, nil
}

// Sum is the check of a line.
func Sum(text string) string {
	var sum byte
	for i := range len(text) {
		sum ^= text[i]
	}
	return fmt.Sprintf("%02X", sum)
}

// Checked is a line as it is sent.
func Checked(text string) string { return text + "*" + Sum(text) + "\r\n" }

// Read is the text of a line that was sent; false where its check does not hold.
func Read(sent string) (text string, ok bool) {
	sent = strings.TrimRight(sent, "\r\n")
	i := strings.LastIndexByte(sent, '*')
	if i < 0 || len(sent) > longest {
		return "", false
	}
	return sent[:i], sent[i+1:] == Sum(sent[:i])
}

// ask sends a line and returns the words of its answer, which begins with want. Where that is
// lost or spoilt it asks again.
func (l *line) ask(ctx context.Context, want, text string) ([]string, error) {
	var last error
	for range 1 + retries {
		if ctx.Err() != nil {
			return nil, ctx.Err()
		}
		words, err := l.once(want, text)
		var refused *Refused
		if err == nil || errors.As(err, &refused) || errors.Is(err, ErrGone) {
			return words, err
		}
		last = err
	}
	return nil, last
}

func (l *line) once(want, text string) ([]string, error) {
	if err := l.conn.SetDeadline(time.Now().Add(l.wait)); err != nil {
		return nil, ErrGone
	}
	if _, err := l.conn.Write([]byte(Checked(text))); err != nil {
		return nil, ErrGone
	}
	raw, err := l.in.ReadSlice('\n')
	switch {
	case errors.Is(err, os.ErrDeadlineExceeded):
		l.in.Reset(l.conn) // half a line may lie there
		return nil, ErrSilent
	case errors.Is(err, bufio.ErrBufferFull):
		l.in.Reset(l.conn)
		return nil, ErrGarbled
	case errors.Is(err, io.EOF), err != nil:
		return nil, ErrGone
	}
	answer, ok := Read(string(raw))
	if !ok {
		return nil, ErrGarbled
	}
	words := strings.Fields(answer)
	switch {
	case len(words) > 1 && words[0] == "E":
		return nil, &Refused{words[1], refusal(words[1])}
	case len(words) == 0 || words[0] != want:
		return nil, ErrGarbled
	}
	return words[1:], nil
}

// refusal puts an instrument's code into words.
func refusal(code string) string {
	switch code {
	case "1":
		return "it sees no staff: turn it to the staff, and hold that upright"
	case "2":
		return "it stands too far out of level: set its bubble in the ring and read again"
	case "3":
		return "it does not know what it was asked: is this the right instrument?"
	case "4":
		return "it cannot be set so: up to 240 minutes and 4 starts a day work"
	}
	return "it refuses with code " + code + ": its own booklet says what that means"
}

// number is a word that is a number within bounds.
func number(word string, least, most float64) (float64, error) {
	v, err := strconv.ParseFloat(word, 64)
	if err != nil || !(v >= least && v <= most) {
		return 0, ErrGarbled
	}
	return v, nil
}
