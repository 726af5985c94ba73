package main

import (
	"errors"
	"fmt"
	"io"
	"os"

	"github.com/spf13/cobra"

	"chamfer/store"
)

// fileFlag is the file of projects that a command is about.
func fileFlag(cmd *cobra.Command) func() (string, error) {
	data := ""
	cmd.Flags().StringVar(&data, "data", "", "file of projects (default: chamfer.db in your configuration folder)")
	return func() (string, error) {
		if data != "" {
			return data, nil
		}
		return defaultFile(false)
	}
}

// asked gives faults of what was asked their exit code: a file that is not there, or is
// not what it should be.
func asked(err error) error {
	var refused *store.Refused
	var later *store.Later
	if errors.As(err, &refused) || errors.As(err, &later) || errors.Is(err, os.ErrNotExist) {
		return malformed(err)
	}
	return err
}

// report says what a file holds. Projects that cannot be read are named, and are a fault.
func report(out io.Writer, path string, c store.Checked) error {
	newest := ""
	if c.Newest != "" {
		newest = ", the last change of " + c.Newest
	}
	_, err := fmt.Fprintf(
		out,
		"%s holds together: %d projects, %d revisions%s\n",
		path,
		c.Projects,
		c.Revisions,
		newest,
	)
	if c.Until != "" {
		_, say := fmt.Fprintf(out, "keep this copy until %s and then take it away: what is deleted since lives on in it\n",
			c.Until)
		err = errors.Join(err, say)
	}
	for i := range c.Damaged {
		_, say := fmt.Fprintf(out, "  %v; its page has the way back\n", &c.Damaged[i])
		err = errors.Join(err, say)
	}
	if len(c.Damaged) > 0 {
		err = errors.Join(err, fmt.Errorf("%d of %d projects cannot be read", len(c.Damaged), c.Projects))
	}
	return err
}

func backupCommand() *cobra.Command {
	cmd := &cobra.Command{
		Use: "backup OUT", Args: one("file for the copy"),
		Short: "Copy your file of projects, in use or not",
		Long: `Copies the file of projects to a new file, while Chamfer serves from it or not, and
looks through the copy: that it holds together and that every project can be read.
Copying the file by other means while it is in use may lose the latest changes.

  chamfer backup beds-monday.db`,
	}
	file := fileFlag(cmd)
	cmd.RunE = func(cmd *cobra.Command, args []string) error {
		path, err := file()
		if err != nil {
			return err
		}
		c, err := store.Backup(path, args[0])
		if err != nil {
			return asked(err)
		}
		return report(cmd.OutOrStdout(), args[0], c)
	}
	return cmd
}

func restoreCommand() *cobra.Command {
	over := false
	cmd := &cobra.Command{
		Use: "restore IN", Args: one("copy to bring back"),
		Short: "Put a copy in place of your file of projects",
		Long: `Puts a copy in place of the file of projects, which no Chamfer may be serving from.
What was there is kept beside it. A file that has changes later than the copy is
replaced only with --over.

  chamfer restore beds-monday.db`,
	}
	file := fileFlag(cmd)
	cmd.Flags().BoolVar(&over, "over", false, "replace a file that has later changes, or is damaged")
	cmd.RunE = func(cmd *cobra.Command, args []string) error {
		path, err := file()
		if err != nil {
			return err
		}
		was, c, err := store.Restore(args[0], path, over)
		if was != "" {
			fmt.Fprintf(cmd.OutOrStdout(), "What was there is now %s\n", was)
		}
		var later *store.Later
		if errors.As(err, &later) {
			err = fmt.Errorf("%s: %w; --over replaces it all the same, and keeps it beside", path, err)
		}
		if err != nil {
			return asked(err)
		}
		return report(cmd.OutOrStdout(), path, c)
	}
	return cmd
}

func doctorCommand() *cobra.Command {
	cmd := &cobra.Command{
		Use: "doctor", Args: noArgs,
		Short: "Look through your file of projects",
		Long: `Looks through the file of projects, in use or not: that it holds together and that
every project can be read. It changes nothing.`,
	}
	file := fileFlag(cmd)
	cmd.RunE = func(cmd *cobra.Command, _ []string) error {
		path, err := file()
		if err != nil {
			return err
		}
		c, err := store.Check(path)
		if err != nil {
			return asked(err)
		}
		return report(cmd.OutOrStdout(), path, c)
	}
	return cmd
}
