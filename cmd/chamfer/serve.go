package main

import (
	"context"
	"crypto/tls"
	"errors"
	"fmt"
	"log/slog"
	"net"
	"net/http"
	"net/netip"
	"os"
	"os/signal"
	"path/filepath"
	"runtime/debug"
	"strconv"
	"syscall"
	"time"

	"github.com/spf13/cobra"

	"chamfer/authority"
	"chamfer/demo"
	"chamfer/store"
	"chamfer/web"
)

const defaultAddr = "127.0.0.1:8420"

// serving is what serve and demo are told.
type serving struct {
	addr, data   string
	demo, reset  bool
	network      bool
	hosts        []string
	proxies      []string
	level        string // address of a digital level
	timer, probe string // of a tap timer and of a moisture probe
	station      string // of a weather station
	supplier     string // of a builders' supplier, http://127.0.0.1:8460
	accounts     bool   // every request signs in, also before there is an account
	own          bool   // pages are secured by an authority of this machine's own
	crt, key     string // or by a certificate that is there
	figures      string // address at which it says what it counts of itself
	json         bool   // its log is lines of JSON
	requests     bool   // each request is told in it
	cluster      clustered
}

const doorHelp = `
While nobody has an account, whoever reaches the pages may change and delete
everything. They are therefore for this machine alone, by its loopback addresses,
unless told otherwise. With --accounts everyone signs in, at any --addr; the link
that makes the first account is printed. --trust-network opens the pages to everyone
on the network. --host answers to one more name; --proxy takes requests that this
proxy passes on, and everyone signs in.

--secure serves https by a certificate authority of this machine's own, made at the
first start and kept beside the projects; /phone shows how a phone comes to trust
it. --cert and --key take a certificate that is there.`

func (o *serving) flags(cmd *cobra.Command) {
	cmd.Flags().StringVar(&o.addr, "addr", defaultAddr, "address to listen on")
	cmd.Flags().StringVar(&o.level, "level", "", "address of a digital level that is plugged in")
	cmd.Flags().StringVar(&o.timer, "timer", "", "address of a tap timer that is plugged in")
	cmd.Flags().StringVar(&o.probe, "probe", "", "address of a moisture probe that is plugged in")
	cmd.Flags().StringVar(&o.station, "station", "", "address of a weather station that is plugged in")
	cmd.Flags().StringVar(&o.supplier, "supplier", "", "address of a builders' supplier that tells its prices")
	cmd.Flags().BoolVar(&o.network, "trust-network", false, "let everyone on this network change and delete everything")
	cmd.Flags().BoolVar(&o.accounts, "accounts", false, "everyone signs in; the link to the first account is printed")
	cmd.Flags().BoolVar(&o.own, "secure", false, "serve https by an authority of this machine's own")
	cmd.Flags().StringVar(&o.crt, "cert", "", "file of a certificate to serve https by, with those that vouch for it")
	cmd.Flags().StringVar(&o.key, "key", "", "file of its key")
	cmd.Flags().StringVar(&o.figures, "figures", "",
		"address to tell figures at, in Prometheus' form, such as 127.0.0.1:9420 (default: none)")
	cmd.Flags().BoolVar(&o.json, "log-json", false, "write the log as lines of JSON")
	cmd.Flags().BoolVar(&o.requests, "log-requests", false, "tell of each request in the log")
	cmd.Flags().StringSliceVar(&o.hosts, "host", nil, "a name the pages are opened by, besides the loopback ones")
	cmd.Flags().
		StringSliceVar(&o.proxies, "proxy", nil, "address of a proxy whose requests are taken, such as 10.0.0.2 or"+
			" 10.0.0.0/24")
}

func serveCommand() *cobra.Command {
	o := &serving{}
	cmd := &cobra.Command{
		Use: "serve", Args: noArgs,
		Short: "Serve the pages from your own file of projects",
		Long: `Serves the pages on an address of this machine. Projects are kept in one SQLite
file; every change is committed before it is answered. Stop it with Ctrl-C.
` + doorHelp,
		RunE: func(cmd *cobra.Command, _ []string) error { return serve(cmd, o) },
	}
	o.flags(cmd)
	o.cluster.flags(cmd)
	cmd.Flags().StringVar(&o.data, "data", "", "file of projects (default: chamfer.db in your configuration folder)")
	return cmd
}

func demoCommand() *cobra.Command {
	o := &serving{demo: true}
	cmd := &cobra.Command{
		Use: "demo", Args: noArgs,
		Short: "Serve the pages with an invented allotment to play with",
		Long: `Starts with demo data: an invented allotment with one project for each region,
and prints the address. A first build from source takes a few minutes. The demo
keeps its own file, apart from your projects; --reset starts it afresh, where no
other Chamfer has it open, and takes away no file that is not a demo's.
` + doorHelp,
		RunE: func(cmd *cobra.Command, _ []string) error { return serve(cmd, o) },
	}
	o.flags(cmd)
	cmd.Flags().StringVar(&o.data, "data", "", "file of the demo (default: chamfer-demo.db in the cache folder)")
	cmd.Flags().BoolVar(&o.reset, "reset", false, "throw the demo's file away and start afresh")
	return cmd
}

// What memory it keeps to where it can. How long a request may take to arrive, its answer to be taken, and a stop to
// wait for
// those under way.
const (
	memory    = 1 << 30
	headTime  = 10 * time.Second
	bodyTime  = 20 * time.Second
	replyTime = 2 * time.Minute
	stopTime  = 5 * time.Second
)

func serve(cmd *cobra.Command, o *serving) error {
	door, err := o.door()
	if err != nil {
		return malformed(err)
	}
	if o.data == "" {
		if o.data, err = defaultFile(o.demo); err != nil {
			return err
		}
	}
	if err := o.mayLetIn(&door); err != nil {
		return malformed(err)
	}
	ln, err := listen(o.addr) // before anything happens to the file
	if err != nil {
		return err
	}
	defer ln.Close()
	if os.Getenv("GOGC") == "" {
		// An edit makes some fifty plans and throws them away: memory is cheap
		// beside the time it takes to clear up after each.
		debug.SetGCPercent(400)
	}
	if os.Getenv("GOMEMLIMIT") == "" {
		debug.SetMemoryLimit(memory) // beyond which it clears up more often
	}
	secured, own, err := o.secured(door)
	if err != nil {
		return err
	}
	s, err := openData(o)
	if err != nil {
		return err
	}
	log := slog.New(slog.NewTextHandler(cmd.ErrOrStderr(), nil))
	if o.json {
		log = slog.New(slog.NewJSONHandler(cmd.ErrOrStderr(), nil))
	}
	leave, err := o.cluster.join(cmd.Context(), s, log)
	if err != nil {
		return errors.Join(err, s.Close())
	}
	err = pages(cmd, o, s, log, ln, door, secured, own)
	err = errors.Join(err, s.Close())
	leave()
	return err
}

func openData(o *serving) (*store.Store, error) {
	open := store.Open
	if o.reset {
		open = store.OpenAfresh
	}
	s, err := open(o.data)
	if errors.Is(err, store.ErrBroken) {
		return nil, malformed(broken(o.data, err))
	}
	if err != nil || !o.demo {
		return s, err
	}
	if err := demo.Fill(s); err != nil {
		return nil, errors.Join(err, s.Close())
	}
	return s, nil
}

// pages serves until it is told to stop.
func pages(cmd *cobra.Command, o *serving, s *store.Store, log *slog.Logger, ln net.Listener, door web.Door,
	secured *tls.Config, own *authority.Authority) error {
	door.LogRequests = o.requests
	handler, err := web.New(s, log, door)
	if err != nil {
		return err
	}
	defer handler.End()
	if o.figures != "" {
		end, err := o.tellFigures(handler.Figures())
		if err != nil {
			return err
		}
		defer end()
	}
	if o.demo { // invented instruments in an invented garden
		unplug, err := o.plugIn()
		defer unplug()
		if err != nil {
			return err
		}
	}
	at := addresses(ln, secured != nil)
	way := web.WayIn{Addresses: at, Secure: secured != nil}
	if own != nil {
		way.Authority, way.Fingerprint, way.Until = own.PEM, own.Fingerprint(), own.Until()
	}
	handler.Reached(way)
	handler.Read(web.Instruments{Level: o.level, Timer: o.timer, Probe: o.probe, Station: o.station,
		Supplier: o.supplier})
	server := &http.Server{
		Handler:           handler,
		ReadHeaderTimeout: headTime,
		ReadTimeout:       bodyTime,
		WriteTimeout:      replyTime,
		IdleTimeout:       2 * time.Minute,
		ErrorLog:          slog.NewLogLogger(log.Handler(), slog.LevelWarn),
	}
	ctx, stop := signal.NotifyContext(context.Background(), os.Interrupt, syscall.SIGTERM)
	defer stop()
	for _, at := range at {
		fmt.Fprintf(cmd.OutOrStdout(), "Chamfer is at %s (projects in %s; Ctrl-C stops it)\n", at, o.data)
	}
	if own != nil {
		fmt.Fprintf(cmd.OutOrStdout(), "Its authority's fingerprint is %s; /phone says what it is for.\n", own.Fingerprint())
	}
	if code := way.Printed(); (door.Network || door.Others) && code != "" {
		fmt.Fprintf(cmd.OutOrStdout(), "\n%s\nA phone on this network opens it by that.\n", code)
	}
	first, err := handler.FirstLink()
	if err != nil {
		return err
	}
	if first != "" {
		fmt.Fprintf(cmd.OutOrStdout(), "Nobody has an account yet. The first is made, within a day, at %s%s\n", at[0], first)
	}
	guarded, err := s.Guarded(cmd.Context())
	if err != nil {
		return err
	}
	if door.Network && !guarded && !door.Accounts {
		fmt.Fprintln(cmd.OutOrStdout(), "Everyone on this network can read, change and delete everything in it.")
	}
	handler.KeepCopies()
	server.RegisterOnShutdown(handler.Quiet)
	go func() {
		for day := time.NewTicker(24 * time.Hour); ; {
			select {
			case <-ctx.Done():
				day.Stop()
				return
			case <-day.C:
				if err := s.Sweep(); err != nil {
					log.Warn("sweep", "err", err)
				}
			}
		}
	}()
	done := make(chan error, 1)
	if secured != nil {
		server.TLSConfig = secured
		go func() { done <- server.ServeTLS(ln, "", "") }()
	} else {
		go func() { done <- server.Serve(ln) }()
	}
	select {
	case err := <-done:
		return err
	case <-ctx.Done():
	}
	wait, cancel := context.WithTimeout(context.Background(), stopTime)
	defer cancel()
	if err := server.Shutdown(wait); err != nil { // some are slow: what they would have changed is not kept
		log.Warn("requests under way were cut off", "after", stopTime)
		return server.Close()
	}
	return nil
}

// tellFigures tells them at an address of their own, so that whoever reads them need not be let in to the pages.
func (o *serving) tellFigures(figures http.Handler) (end func(), err error) {
	ln, err := listen(o.figures)
	if err != nil {
		return nil, err
	}
	mux := http.NewServeMux()
	mux.Handle("GET /metrics", figures)
	server := &http.Server{Handler: mux, ReadHeaderTimeout: headTime, ReadTimeout: bodyTime, WriteTimeout: replyTime}
	go func() { _ = server.Serve(ln) }()
	return func() { _ = server.Close() }, nil
}

// door reads whom the pages are for.
func (o *serving) door() (web.Door, error) {
	d := web.Door{Network: o.network, Hosts: o.hosts}
	host, port, err := net.SplitHostPort(o.addr)
	if n, bad := strconv.ParseUint(port, 10, 16); err != nil || bad != nil && port != "" || n > 65535 {
		return d, fmt.Errorf("--addr %q is no address and port; %s is one", o.addr, defaultAddr)
	}
	for _, p := range o.proxies {
		prefix, err := netip.ParsePrefix(p)
		if ip, bad := netip.ParseAddr(p); bad == nil {
			prefix, err = ip.Prefix(ip.BitLen())
		}
		if err != nil {
			return d, fmt.Errorf("--proxy %q is no address; 10.0.0.2 or 10.0.0.0/24 is one", p)
		}
		d.Proxies = append(d.Proxies, prefix)
	}
	ip, err := netip.ParseAddr(host)
	local := host == "localhost" || err == nil && ip.IsLoopback()
	d.Others = !local
	d.Accounts = o.accounts || len(d.Proxies) > 0 && !o.network
	if name := web.Hostname(); (o.network || d.Others) && name != "" {
		d.Hosts = append(d.Hosts, name, name+".local")
	}
	if err != nil && !local && host != "" {
		d.Hosts = append(d.Hosts, host)
	}
	return d, nil
}

// mayLetIn refuses to let others in where anybody could change everything, or where what is typed could be read on its
// way, and nobody said that this is meant.
func (o *serving) mayLetIn(d *web.Door) error {
	some, err := store.HasAccounts(o.data)
	if err != nil {
		return nil // opening the file says what is wrong with it
	}
	if !d.Others || o.network {
		return nil
	}
	if !some && !d.Accounts {
		return fmt.Errorf(
			"--addr %s lets others than this machine in, and there are no accounts: whoever gets in can change and delete"+
				" everything. Add --accounts, so that everyone signs in, or --trust-network if that is meant, or leave it at %s",
			o.addr,
			defaultAddr,
		)
	}
	if !o.own && o.crt == "" && len(d.Proxies) == 0 {
		return fmt.Errorf(
			"--addr %s lets others in by plain http, where passwords can be read on their way. Add --secure, or --cert and"+
				" --key, or name the --proxy that does it, or say --trust-network if this network is trusted",
			o.addr,
		)
	}
	d.Accounts = true // also once the last of them has left
	return nil
}

// listen takes the address. One that this machine does not have is a fault of the call.
func listen(addr string) (net.Listener, error) {
	ln, err := net.Listen("tcp", addr)
	var dns *net.DNSError
	switch {
	case err == nil:
		return ln, nil
	case errors.Is(err, syscall.EADDRNOTAVAIL), errors.As(err, &dns):
		return nil, malformed(fmt.Errorf("%w; this machine has no such address", err))
	}
	return nil, fmt.Errorf("%w; --addr 127.0.0.1:0 takes any free port", err)
}

// secured is how pages are secured, nil where they are not, and the authority where it is this machine's own.
func (o *serving) secured(door web.Door) (*tls.Config, *authority.Authority, error) {
	switch {
	case o.crt != "" || o.key != "":
		if o.own || o.crt == "" || o.key == "" {
			return nil, nil, malformed(errors.New("--cert and --key go together, and without --secure"))
		}
		pair, err := tls.LoadX509KeyPair(o.crt, o.key)
		if err != nil {
			return nil, nil, fmt.Errorf("the certificate cannot be used: %w", err)
		}
		return &tls.Config{MinVersion: tls.VersionTLS12, Certificates: []tls.Certificate{pair}}, nil, nil
	case o.own:
		a, err := authority.Open(filepath.Join(filepath.Dir(o.data), "chamfer-authority"), time.Now(), web.Addresses()...)
		if err != nil {
			return nil, nil, err
		}
		return a.Pages(func() []string { return append([]string{"localhost"}, door.Hosts...) }, func() []netip.Addr {
			return append([]netip.Addr{netip.MustParseAddr("127.0.0.1"), netip.MustParseAddr("::1")}, web.Addresses()...)
		}), a, nil
	}
	return nil, nil, nil
}

// addresses are those the pages can really be opened by.
func addresses(ln net.Listener, secure bool) []string {
	scheme := "http://"
	if secure {
		scheme = "https://"
	}
	at, err := netip.ParseAddrPort(ln.Addr().String())
	if err != nil || !at.Addr().IsUnspecified() {
		return []string{scheme + ln.Addr().String()}
	}
	list := []string{scheme + netip.AddrPortFrom(netip.AddrFrom4([4]byte{127, 0, 0, 1}), at.Port()).String()}
	for _, ip := range web.Addresses() {
		list = append(list, scheme+netip.AddrPortFrom(ip, at.Port()).String())
	}
	return list
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
	if err := os.MkdirAll(dir, 0o700); err != nil {
		return "", fmt.Errorf("%w; say where with --data", err)
	}
	return filepath.Join(dir, name), nil
}
