package main

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"net"
	"net/netip"
	"os"
	"os/signal"
	"path/filepath"
	"strings"
	"syscall"

	"github.com/spf13/cobra"

	"chamfer/store"
	"chamfer/stream"
)

// clustered is where the log is that several Chamfers share, for those that are one of them.
type clustered struct {
	at     []string // addresses of its machines
	secret string   // file
	copies int
}

func (o *clustered) flags(cmd *cobra.Command) {
	cmd.PersistentFlags().StringSliceVar(&o.at, "cluster", nil,
		"address of a machine of the log that several Chamfers share, such as 10.0.0.2:4222; again for each")
	cmd.PersistentFlags().StringVar(&o.secret, "cluster-secret", "", "file of the secret that lets one in there")
	cmd.PersistentFlags().IntVar(&o.copies, "cluster-copies", 3,
		"on how many of its machines the log is kept: 1, 3 or 5; it is the same for all")
}

// join makes a store a view of the log, where there is one, and returns what leaves it.
func (o *clustered) join(ctx context.Context, s *store.Store, log *slog.Logger) (leave func(), err error) {
	if len(o.at) == 0 {
		return func() {}, s.Apart()
	}
	if o.copies != 1 && o.copies != 3 && o.copies != 5 {
		return nil, malformed(fmt.Errorf("--cluster-copies %d: of 1, 3 or 5 machines more than half can agree", o.copies))
	}
	for _, a := range o.at {
		if _, port, err := net.SplitHostPort(a); err != nil || port == "" {
			return nil, malformed(fmt.Errorf("--cluster %q is no address and port; 10.0.0.2:4222 is one", a))
		}
	}
	secret, err := secretIn(o.secret)
	if err != nil {
		return nil, err
	}
	l, err := stream.Join(ctx, stream.Ask{Addresses: o.at, Secret: secret, Copies: o.copies, Log: log})
	if err != nil {
		return nil, err
	}
	if err := s.Share(ctx, l, log); err != nil {
		l.Close()
		return nil, err
	}
	return l.Close, nil
}

// secretIn reads a secret that is kept in a file, "" for none.
func secretIn(name string) (string, error) {
	if name == "" {
		return "", nil
	}
	raw, err := os.ReadFile(name)
	if err != nil {
		return "", err
	}
	secret := strings.TrimSpace(string(raw))
	if len(secret) < 16 {
		return "", malformed(fmt.Errorf("the secret in %s is shorter than 16 letters: anybody could guess it", name))
	}
	return secret, nil
}

func streamCommand() *cobra.Command {
	n := stream.Node{}
	secret := ""
	cmd := &cobra.Command{
		Use: "stream", Args: noArgs,
		Short: "Be one of the machines that keep the log several Chamfers share",
		Long: `Keeps, with others, the log that several Chamfers share: NATS JetStream, which is in
this program. Of three machines one may be lost, of five two, and the others go on.
What one acknowledges, more than half have written and synced.

  chamfer stream --name s1 --data s1 --addr 10.0.0.1:4222 --route 10.0.0.1:6222 \
    --other 10.0.0.2:6222 --other 10.0.0.3:6222 --secret secret.txt

Then, for each Chamfer: serve --cluster 10.0.0.1:4222 --cluster 10.0.0.2:4222
--cluster 10.0.0.3:4222 --cluster-secret secret.txt. What goes between the machines
is not encrypted: keep it in a network that is yours. docs/scale.md says more.`,
		RunE: func(cmd *cobra.Command, _ []string) error {
			var err error
			if n.Secret, err = secretIn(secret); err != nil {
				return err
			}
			if n.Name == "" || n.Data == "" {
				return malformed(errors.New("give it a --name that no other has, and a folder with --data"))
			}
			for _, addr := range []string{n.Addr, n.Route} {
				host, _, err := net.SplitHostPort(addr)
				if addr == "" && len(n.Others) == 0 {
					continue
				}
				if err != nil {
					return malformed(fmt.Errorf("%q is no address and port; 10.0.0.1:4222 is one", addr))
				}
				if ip, err := netip.ParseAddr(host); n.Secret == "" && host != "localhost" && (err != nil || !ip.IsLoopback()) {
					return malformed(fmt.Errorf("%s lets other machines in, and there is no secret: name a file that has one with"+
						" --secret", addr))
				}
			}
			n.Log = slog.New(slog.NewTextHandler(cmd.ErrOrStderr(), nil)).With("stream", n.Name)
			if err := os.MkdirAll(filepath.Clean(n.Data), 0o700); err != nil {
				return err
			}
			stop, err := stream.Start(n)
			if err != nil {
				return err
			}
			defer stop()
			fmt.Fprintf(cmd.OutOrStdout(), "This machine of the shared log is at %s (Ctrl-C stops it)\n", n.Addr)
			ctx, end := signal.NotifyContext(cmd.Context(), os.Interrupt, syscall.SIGTERM)
			defer end()
			<-ctx.Done()
			return nil
		},
	}
	cmd.Flags().StringVar(&n.Name, "name", "", "what this machine is called, as no other is")
	cmd.Flags().StringVar(&n.Data, "data", "", "folder the log is kept in")
	cmd.Flags().StringVar(&n.Addr, "addr", "127.0.0.1:4222", "address for Chamfers")
	cmd.Flags().StringVar(&n.Route, "route", "", "address for the other machines of the log")
	cmd.Flags().StringSliceVar(&n.Others, "other", nil, "such an address of another; again for each")
	cmd.Flags().StringVar(&secret, "secret", "", "file of a secret that lets Chamfers and the other machines in")
	return cmd
}
