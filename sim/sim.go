// Package sim has small stand-ins for what stands outside: instruments that answer as real ones
// do, with the faults that real ones have. They speak the protocol of docs/instruments.md.
package sim

import (
	"bufio"
	"net"
	"strings"
	"sync"
	"time"

	"chamfer/instrument"
)

// Device answers one line with another; ok is false where it says nothing.
type Device interface {
	Answer(words []string) (answer string, ok bool)
}

// Faults are what goes wrong on a line, each at every so many lines; 0 for never.
type Faults struct {
	Drop    int // an answer is lost
	Garble  int // an answer is spoilt
	Wrong   int // an answer is to another question
	Unplug  int // the plug comes out
	Flood   int // it sends without end
	Latency time.Duration
}

// Serve answers on a listener until that is closed.
func Serve(ln net.Listener, d Device, f Faults) {
	var mu sync.Mutex // an instrument does one thing at a time
	n := 0
	for {
		conn, err := ln.Accept()
		if err != nil {
			return
		}
		go func() {
			defer conn.Close()
			in := bufio.NewScanner(conn)
			in.Buffer(make([]byte, 256), 256)
			for in.Scan() {
				text, ok := instrument.Read(in.Text())
				mu.Lock()
				n++
				at := n
				answer, says := "E 3", true
				if ok {
					answer, says = d.Answer(strings.Fields(text))
				}
				mu.Unlock()
				time.Sleep(f.Latency)
				sent := instrument.Checked(answer)
				every := func(k int) bool { return k > 0 && at%k == 0 }
				switch {
				case every(f.Unplug):
					return
				case every(f.Drop) || !says:
					continue
				case every(f.Garble):
					sent = "#" + sent[1:]
				case every(f.Wrong):
					sent = instrument.Checked("T 0")
				case every(f.Flood):
					sent = strings.Repeat("7", 5000)
				}
				if _, err := conn.Write([]byte(sent)); err != nil {
					return
				}
			}
		}()
	}
}

// Start serves a device on an address of this machine, and returns where, and how to stop it.
func Start(addr string, d Device, f Faults) (at string, stop func() error, err error) {
	ln, err := net.Listen("tcp", addr)
	if err != nil {
		return "", nil, err
	}
	go Serve(ln, d, f)
	return ln.Addr().String(), ln.Close, nil
}
