package main

import (
	"errors"
	"fmt"
	"log/slog"
	"time"

	"github.com/spf13/cobra"

	"chamfer/people"
	"chamfer/store"
)

// peopleCommand is who may come in, from the machine itself: whoever can read the file needs no password for it.
func peopleCommand() *cobra.Command {
	cmd := &cobra.Command{
		Use: "people", Args: noArgs,
		Short: "Say who may come in, from the machine itself",
		Long: `Lists who has an account, makes the link to the first one, or a link by which somebody
sets a new password. A link works once.

  chamfer people
  chamfer people first
  chamfer people recover NAME
  chamfer people owner NAME`,
	}
	data, at := "", ""
	cmd.PersistentFlags().StringVar(&data, "data", "",
		"file of projects (default: chamfer.db in your configuration folder)")
	cmd.PersistentFlags().StringVar(&at, "at", "http://"+defaultAddr, "address the pages are opened by")
	cluster := &clustered{}
	cluster.flags(cmd)
	with := func(do func(cmd *cobra.Command, s *store.Store, args []string) error) func(*cobra.Command, []string) error {
		return func(cmd *cobra.Command, args []string) (err error) {
			path := data
			if path == "" {
				if path, err = defaultFile(false); err != nil {
					return err
				}
			}
			s, err := store.Open(path)
			if err != nil {
				return asked(err)
			}
			leave, err := cluster.join(cmd.Context(), s, slog.New(slog.NewTextHandler(cmd.ErrOrStderr(), nil)))
			if err != nil {
				return errors.Join(err, s.Close())
			}
			defer leave()
			return errors.Join(do(cmd, s, args), s.Close())
		}
	}
	cmd.RunE = with(func(cmd *cobra.Command, s *store.Store, _ []string) error {
		list, err := s.Accounts(cmd.Context())
		for _, a := range list {
			houses, herr := s.Households(cmd.Context(), a.ID)
			err = errors.Join(err, herr)
			fmt.Fprint(cmd.OutOrStdout(), a.Name)
			for _, h := range houses {
				fmt.Fprintf(cmd.OutOrStdout(), ", %s of “%s”", h.Role, h.Name)
			}
			fmt.Fprintln(cmd.OutOrStdout())
		}
		if len(list) == 0 {
			fmt.Fprintln(cmd.OutOrStdout(), "Nobody has an account; “chamfer people first” makes the way to one.")
		}
		return err
	})
	named := func(cmd *cobra.Command, s *store.Store, name string) (store.Account, error) {
		a, err := s.AccountNamed(cmd.Context(), name)
		if errors.Is(err, store.ErrNobody) {
			err = malformed(fmt.Errorf("nobody signs in as %q; “chamfer people” lists who does", name))
		}
		return a, err
	}
	link := func(cmd *cobra.Command, s *store.Store, l store.Link, lasts time.Duration) error {
		secret, err := s.MakeLink(l, lasts)
		if err == nil {
			fmt.Fprintf(cmd.OutOrStdout(), "%s/in/%s\nworks once, within %v.\n", at, secret, lasts)
		}
		return err
	}
	cmd.AddCommand(&cobra.Command{Use: "first", Args: noArgs, Short: "Make the link to the first account",
		RunE: with(func(cmd *cobra.Command, s *store.Store, _ []string) error {
			if some, err := s.Guarded(cmd.Context()); err != nil || some {
				return errors.Join(err, malformed(errors.New("somebody has an account already; “chamfer people recover NAME”"+
					" makes a link for a new password")))
			}
			return link(cmd, s, store.Link{Kind: store.First, Once: true}, 24*time.Hour)
		})})
	cmd.AddCommand(&cobra.Command{Use: "recover NAME", Args: one("name"), Short: "Make a link for a new password",
		RunE: with(func(cmd *cobra.Command, s *store.Store, args []string) error {
			a, err := named(cmd, s, args[0])
			if err != nil {
				return err
			}
			return link(cmd, s, store.Link{Kind: store.Recover, Account: &a.ID, Once: true}, time.Hour)
		})})
	cmd.AddCommand(&cobra.Command{Use: "owner NAME", Args: one("name"), Short: "Make somebody an owner of their household",
		RunE: with(func(cmd *cobra.Command, s *store.Store, args []string) error {
			a, err := named(cmd, s, args[0])
			if err != nil {
				return err
			}
			houses, err := s.Households(cmd.Context(), a.ID)
			for _, h := range houses {
				err = errors.Join(err, s.SetRole(h.ID, a.ID, people.Owner))
			}
			return err
		})})
	return cmd
}
