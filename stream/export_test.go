package stream

import (
	"bytes"
	"compress/flate"
	"context"
	"io"
)

// Things are what is beside the log.
func (l *Log) Things(ctx context.Context) (names []string) {
	list, _ := l.things.List(ctx)
	for _, o := range list {
		names = append(names, o.Name)
	}
	return names
}

// Says reports whether a text is anywhere in the log.
func (l *Log) Says(ctx context.Context, text string) bool {
	info, err := l.log.Info(ctx)
	if err != nil {
		return false
	}
	for n := info.State.FirstSeq; n <= info.State.LastSeq; n++ {
		m, err := l.log.GetMsg(ctx, n)
		if err != nil {
			continue
		}
		raw, _ := io.ReadAll(flate.NewReader(bytes.NewReader(m.Data)))
		if bytes.Contains(raw, []byte(text)) {
			return true
		}
	}
	return false
}

// Bytes are how many pieces the log has, and how many bytes.
func (l *Log) Bytes(ctx context.Context) (uint64, uint64) {
	info, err := l.log.Info(ctx)
	if err != nil {
		return 1, 0
	}
	return info.State.Msgs, info.State.Bytes
}
