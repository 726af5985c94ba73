// Federation starts, on this machine alone, what several have in earnest: machines that keep a log, Chamfers that share
// it, and a plain proxy before them that gives each project to one of them. Ctrl-C ends them all; what they kept is
// thrown away.
//
//	go build -o /tmp/chamfer ./cmd/chamfer
//	go run ./scripts/federation --program /tmp/chamfer --at 127.0.0.1:8430 &
//	go run ./scripts/load --at http://127.0.0.1:8430 --minutes 3
package main

import (
	"bufio"
	"context"
	"errors"
	"flag"
	"fmt"
	"hash/crc32"
	"net"
	"net/http"
	"net/http/httputil"
	"net/url"
	"os"
	"os/exec"
	"os/signal"
	"path/filepath"
	"strings"
	"sync/atomic"
	"syscall"
)

var (
	program  = flag.String("program", "chamfer", "the program")
	at       = flag.String("at", "127.0.0.1:8430", "address of the proxy")
	streams  = flag.Int("streams", 3, "machines that keep the log: 1, 3 or 5")
	chamfers = flag.Int("chamfers", 2, "Chamfers that share it")
	turns    = flag.Bool("turns", false, "ask each in turn, whatever it is about; else each project of one of them, which"+
		" then has its plan")
)

func main() {
	flag.Parse()
	if err := run(); err != nil {
		fmt.Fprintln(os.Stderr, err)
		os.Exit(1)
	}
}

func run() (err error) {
	dir, err := os.MkdirTemp("", "chamfer-federation-*")
	if err != nil {
		return err
	}
	ctx, stop := signal.NotifyContext(context.Background(), os.Interrupt, syscall.SIGTERM)
	var going []*exec.Cmd
	defer func() {
		stop()
		for _, c := range going {
			_ = c.Wait()
		}
		err = errors.Join(err, os.RemoveAll(dir))
	}()
	start := func(args ...string) (string, error) {
		c := exec.CommandContext(ctx, *program, args...)
		c.Stderr = os.Stderr
		c.Cancel = func() error { return c.Process.Signal(os.Interrupt) }
		out, err := c.StdoutPipe()
		if err != nil {
			return "", err
		}
		if err := c.Start(); err != nil {
			return "", err
		}
		going = append(going, c)
		line, err := bufio.NewReader(out).ReadString('\n')
		if err != nil {
			return "", fmt.Errorf("%v does not start: %w", args, err)
		}
		return strings.TrimSpace(line), nil
	}
	addrs, routes := make([]string, *streams), make([]string, *streams)
	for i := range addrs {
		if addrs[i], err = free(); err != nil {
			return err
		}
		if routes[i], err = free(); err != nil {
			return err
		}
	}
	for i := range addrs {
		args := []string{"stream", "--name", fmt.Sprint("s", i), "--data", filepath.Join(dir, fmt.Sprint("s", i)), "--addr",
			addrs[i]}
		if *streams > 1 {
			args = append(args, "--route", routes[i])
		}
		for j, other := range routes {
			if j != i {
				args = append(args, "--other", other)
			}
		}
		said, err := start(args...)
		if err != nil {
			return err
		}
		fmt.Println(said)
	}
	var pages []*url.URL
	for i := range *chamfers {
		said, err := start("serve", "--addr", "127.0.0.1:0", "--data", filepath.Join(dir, fmt.Sprintf("beds %d.db", i)),
			"--proxy", "127.0.0.1", "--trust-network", "--cluster", strings.Join(addrs, ","), "--cluster-copies",
			fmt.Sprint(*streams))
		if err != nil {
			return err
		}
		fmt.Println(said)
		for word := range strings.FieldsSeq(said) {
			if u, err := url.Parse(word); err == nil && u.Scheme == "http" {
				pages = append(pages, u)
			}
		}
	}
	var next atomic.Int64
	proxy := &http.Server{Addr: *at, Handler: &httputil.ReverseProxy{Rewrite: func(r *httputil.ProxyRequest) {
		n := uint32(next.Add(1))
		if parts := strings.SplitN(r.In.URL.Path, "/", 4); len(parts) > 2 && parts[1] == "p" && !*turns {
			n = crc32.ChecksumIEEE([]byte(parts[2]))
		}
		r.SetURL(pages[n%uint32(len(pages))])
		r.Out.Host = r.In.Host
		r.SetXForwarded()
	}, Transport: &http.Transport{MaxIdleConnsPerHost: 100}}}
	context.AfterFunc(ctx, func() { _ = proxy.Close() })
	fmt.Printf("The proxy is at http://%s\n", *at)
	if err := proxy.ListenAndServe(); !errors.Is(err, http.ErrServerClosed) {
		return err
	}
	return nil
}

// free is an address on this machine that nobody listens at.
func free() (string, error) {
	ln, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		return "", err
	}
	defer ln.Close()
	return ln.Addr().String(), nil
}
