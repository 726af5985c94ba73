package store

import (
	"sync"
	"time"
)

// restful is how long nothing is written before the journal is put into the file.
const restful = 20 * time.Second

// idle does something once nothing has been written for a while.
type idle struct {
	mu         sync.Mutex
	timer      *time.Timer
	stopped    bool
	checkpoint func()
}

// written puts it off.
func (i *idle) written() {
	i.mu.Lock()
	defer i.mu.Unlock()
	switch {
	case i.stopped || i.checkpoint == nil:
	case i.timer == nil:
		i.timer = time.AfterFunc(restful, i.checkpoint)
	default:
		i.timer.Reset(restful)
	}
}

func (i *idle) stop() {
	i.mu.Lock()
	defer i.mu.Unlock()
	i.stopped = true
	if i.timer != nil {
		i.timer.Stop()
	}
}
