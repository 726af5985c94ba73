package main

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"net"
	"net/http"
	"os"
	"os/signal"
	"path/filepath"
	"runtime/debug"
	"syscall"
	"time"

	"github.com/spf13/cobra"

	"chamfer/demo"
	"chamfer/store"
	"chamfer/web"
)

const defaultAddr = "127.0.0.1:8420"

func serveCommand() *cobra.Command {
	var addr, data string
	cmd := &cobra.Command{
		Use: "serve", Args: cobra.NoArgs,
		Short: "Serve the pages from your own file of projects",
		Long: `Serves the pages on an address of this machine. Projects are kept in one SQLite
file; every change is committed before it is answered. Stop it with Ctrl-C.`,
		RunE: func(cmd *cobra.Command, _ []string) error { return serve(cmd, addr, data, false, false) },
	}
	cmd.Flags().StringVar(&addr, "addr", defaultAddr, "address to listen on")
	cmd.Flags().StringVar(&data, "data", "", "file of projects (default: chamfer.db in your configuration folder)")
	return cmd
}

func demoCommand() *cobra.Command {
	var addr, data string
	var reset bool
	cmd := &cobra.Command{
		Use: "demo", Args: cobra.NoArgs,
		Short: "Serve the pages with an invented allotment to play with",
		Long: `Starts with demo data: an invented allotment with one project for each region,
and prints the address. A first build from source takes a few minutes. The demo
keeps its own file, apart from your projects; --reset starts it afresh.`,
		RunE: func(cmd *cobra.Command, _ []string) error { return serve(cmd, addr, data, true, reset) },
	}
	cmd.Flags().StringVar(&addr, "addr", defaultAddr, "address to listen on")
	cmd.Flags().StringVar(&data, "data", "", "file of the demo (default: chamfer-demo.db in the cache folder)")
	cmd.Flags().BoolVar(&reset, "reset", false, "throw the demo's file away and start afresh")
	return cmd
}

func serve(cmd *cobra.Command, addr, data string, withDemo, reset bool) error {
	if data == "" {
		var err error
		if data, err = defaultFile(withDemo); err != nil {
			return err
		}
	}
	if reset {
		for _, end := range []string{"", "-wal", "-shm"} {
			if err := os.Remove(data + end); err != nil && !errors.Is(err, os.ErrNotExist) {
				return err
			}
		}
	}
	if os.Getenv("GOGC") == "" {
		// An edit makes some fifty plans and throws them away: memory is cheap
		// beside the time it takes to clear up after each.
		debug.SetGCPercent(400)
	}
	s, err := store.Open(data)
	if err != nil {
		return err
	}
	defer s.Close()
	if withDemo {
		if err := demo.Fill(s); err != nil {
			return err
		}
	}
	log := slog.New(slog.NewTextHandler(cmd.ErrOrStderr(), nil))
	pages, err := web.New(s, log)
	if err != nil {
		return err
	}
	ln, err := net.Listen("tcp", addr)
	if err != nil {
		return fmt.Errorf("%w; --addr 127.0.0.1:0 takes any free port", err)
	}
	server := &http.Server{Handler: pages, ReadHeaderTimeout: 10 * time.Second, IdleTimeout: 2 * time.Minute}
	fmt.Fprintf(cmd.OutOrStdout(), "Chamfer is at http://%s (projects in %s; Ctrl-C stops it)\n", ln.Addr(), data)
	ctx, stop := signal.NotifyContext(context.Background(), os.Interrupt, syscall.SIGTERM)
	defer stop()
	done := make(chan error, 1)
	go func() { done <- server.Serve(ln) }()
	select {
	case err := <-done:
		return err
	case <-ctx.Done():
		wait, cancel := context.WithTimeout(context.Background(), 5*time.Second)
		defer cancel()
		return server.Shutdown(wait)
	}
}

// defaultFile is where projects are kept unless told otherwise; its folder is
// made.
func defaultFile(withDemo bool) (string, error) {
	base, err := os.UserConfigDir()
	name := "chamfer.db"
	if withDemo {
		base, err = os.UserCacheDir()
		name = "chamfer-demo.db"
	}
	if err != nil {
		return "", fmt.Errorf("%w; say where with --data", err)
	}
	dir := filepath.Join(base, "chamfer")
	if err := os.MkdirAll(dir, 0o755); err != nil {
		return "", fmt.Errorf("%w; say where with --data", err)
	}
	return filepath.Join(dir, name), nil
}
