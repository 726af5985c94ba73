package stream

import (
	"errors"
	"fmt"
	"log/slog"
	"net"
	"net/url"
	"path/filepath"
	"strconv"
	"time"

	"github.com/nats-io/nats-server/v2/server"
)

// Node is one of the machines that keep a log.
type Node struct {
	Name   string   // nobody else's
	Data   string   // folder it keeps the log in
	Addr   string   // that Chamfers come to
	Route  string   // that the others come to; "" for one that is alone
	Others []string // their routes
	Secret string   // lets Chamfers and the others in, "" for everybody
	Log    *slog.Logger
}

// Start starts it. What it acknowledges it has synced. stop ends it.
func Start(n Node) (stop func(), err error) {
	host, port, err := split(n.Addr)
	if err != nil {
		return nil, err
	}
	o := &server.Options{ServerName: n.Name, Host: host, Port: port, NoSigs: true, JetStream: true, MaxPayload: 8 << 20,
		StoreDir: filepath.Clean(n.Data), SyncAlways: true, SyncInterval: time.Minute, JetStreamMaxMemory: 64 << 20,
		JetStreamMaxStore: 1 << 50, DontListen: false}
	if n.Secret != "" {
		o.Username, o.Password = user, n.Secret
	}
	if n.Route != "" {
		o.Cluster.Name = "chamfer"
		if o.Cluster.Host, o.Cluster.Port, err = split(n.Route); err != nil {
			return nil, err
		}
		if n.Secret != "" {
			o.Cluster.Username, o.Cluster.Password, o.Cluster.AuthTimeout = user, n.Secret, 5
		}
		for _, other := range n.Others {
			u := &url.URL{Scheme: "nats", Host: other}
			if n.Secret != "" {
				u.User = url.UserPassword(user, n.Secret)
			}
			o.Routes = append(o.Routes, u)
		}
	}
	s, err := server.NewServer(o)
	if err != nil {
		return nil, fmt.Errorf("a machine of the shared log: %w", err)
	}
	s.SetLoggerV2(told{n.Log}, false, false, false)
	s.Start()
	if !s.ReadyForConnections(10 * time.Second) {
		s.Shutdown()
		return nil, errors.New("a machine of the shared log did not start within ten seconds")
	}
	return func() { s.Shutdown(); s.WaitForShutdown() }, nil
}

func split(addr string) (string, int, error) {
	host, text, err := net.SplitHostPort(addr)
	if err != nil {
		return "", 0, fmt.Errorf("%q is no address and port; 10.0.0.2:4222 is one", addr)
	}
	port, err := strconv.ParseUint(text, 10, 16)
	if err != nil || port == 0 {
		return "", 0, fmt.Errorf("%q is no address and port; 10.0.0.2:4222 is one", addr)
	}
	return host, int(port), nil
}

// told writes what the engine says of itself into a log.
type told struct{ log *slog.Logger }

func (t told) Noticef(format string, v ...any) { t.log.Debug(fmt.Sprintf(format, v...)) }
func (t told) Warnf(format string, v ...any)   { t.log.Warn(fmt.Sprintf(format, v...)) }
func (t told) Fatalf(format string, v ...any)  { t.log.Error(fmt.Sprintf(format, v...)) }
func (t told) Errorf(format string, v ...any)  { t.log.Error(fmt.Sprintf(format, v...)) }
func (t told) Debugf(format string, v ...any)  { t.log.Debug(fmt.Sprintf(format, v...)) }
func (t told) Tracef(format string, v ...any)  { t.log.Debug(fmt.Sprintf(format, v...)) }
