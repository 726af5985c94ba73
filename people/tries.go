package people

import (
	"sync"
	"time"
)

// Tries bounds how often a password may be tried. What is counted are failures, by where they come from and by whose
// name they try; so many are allowed in an hour, and each that is over time drops out by itself.
//
// A name cannot be locked from outside: a device that has signed in before is counted by itself, and neither a
// passkey nor a link made at the machine is counted at all.
type Tries struct {
	Now func() time.Time // the clock; time.Now where nil

	mu  sync.Mutex
	log map[string][]time.Time
}

// How many failures are let through in an hour: from one place, of one name from devices not seen before (OWASP ASVS
// 4.0.3, 2.2.1, has a hundred; from memory), and from one that was.
const (
	fromPlace  = 20
	ofName     = 100
	fromDevice = 20
	window     = time.Hour
	mostKeys   = 10_000
)

// Wait is how long must be waited before a name is tried from a place, 0 where it may be tried now. device is what a
// device that has signed in as this name before is known by, "" for others.
func (t *Tries) Wait(place, name, device string) time.Duration {
	t.mu.Lock()
	defer t.mu.Unlock()
	if device != "" {
		return t.left("device "+device, fromDevice)
	}
	return max(t.left("place "+place, fromPlace), t.left("name "+name, ofName))
}

// Failed counts a failure.
func (t *Tries) Failed(place, name, device string) {
	t.mu.Lock()
	defer t.mu.Unlock()
	if t.log == nil {
		t.log = map[string][]time.Time{}
	}
	now := t.now()
	keys := []string{"place " + place, "name " + name}
	if device != "" {
		keys = []string{"device " + device}
	}
	for _, key := range keys {
		t.log[key] = append(t.recent(key), now)
	}
	if len(t.log) > mostKeys {
		t.clear()
	}
}

// Passed forgets the failures of a device, and of a place where there was none.
func (t *Tries) Passed(place, device string) {
	t.mu.Lock()
	defer t.mu.Unlock()
	if device != "" {
		delete(t.log, "device "+device)
		return
	}
	delete(t.log, "place "+place)
}

func (t *Tries) now() time.Time {
	if t.Now != nil {
		return t.Now()
	}
	return time.Now()
}

// recent are the failures of a key that count still.
func (t *Tries) recent(key string) []time.Time {
	list := t.log[key]
	for len(list) > 0 && t.now().Sub(list[0]) >= window {
		list = list[1:]
	}
	return list
}

// left is how long until a key has fewer than most failures.
func (t *Tries) left(key string, most int) time.Duration {
	list := t.recent(key)
	if len(list) < most {
		return 0
	}
	return window - t.now().Sub(list[len(list)-most])
}

// clear takes out what counts no more, and where that is not enough, what failed least: a flood of names costs no
// more memory than this.
func (t *Tries) clear() {
	for key := range t.log {
		if list := t.recent(key); len(list) > 0 {
			t.log[key] = list
		} else {
			delete(t.log, key)
		}
	}
	for most := 1; len(t.log) > mostKeys; most *= 2 {
		for key, list := range t.log {
			if len(list) <= most {
				delete(t.log, key)
			}
		}
	}
}
