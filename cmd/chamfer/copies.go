package main

import (
	"errors"
	"fmt"
	"io"
	"os"
	"strings"

	"github.com/spf13/cobra"

	"chamfer/core/measure"
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
	if c.View {
		_, say := fmt.Fprintln(out, "it is a view of a log that others share: what it lacks is in that")
		err = errors.Join(err, say)
	}
	if c.Packed.Old > 0 {
		_, say := fmt.Fprintf(out, "%d old designs are packed: %d kB in place of %d kB\n", c.Packed.Old,
			c.Packed.Takes>>10+1, c.Packed.Size>>10+1)
		err = errors.Join(err, say)
	}
	if c.Unpacked > 0 {
		_, say := fmt.Fprintf(out, "%d old designs are in packs that cannot be read; what stands is not touched by that, and"+
			" a copy may have them\n", c.Unpacked)
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

func archiveCommand() *cobra.Command {
	cmd := &cobra.Command{
		Use: "archive OUT", Args: one("file for the archive"),
		Short: "Write everything as one archive of open formats",
		Long: `Writes everything that is in the file of projects, in use or not, to one zip: each
project as a .chamfer.json that can be imported, its photos, and every row that is
kept of it, of its household and of who may come in. Sign-ins and links stay behind.
The archive is brought back to a file that is thrown away, and looked through there.
“chamfer restore” takes it as it does a copy. docs/format.md describes it.

  chamfer archive beds-monday.zip`,
	}
	file := fileFlag(cmd)
	cmd.RunE = func(cmd *cobra.Command, args []string) error {
		path, err := file()
		if err != nil {
			return err
		}
		c, err := store.ArchiveFile(path, args[0])
		if err != nil {
			return asked(err)
		}
		return report(cmd.OutOrStdout(), args[0], c)
	}
	return cmd
}

func salvageCommand() *cobra.Command {
	copied, without, look := "", false, false
	cmd := &cobra.Command{
		Use: "salvage", Args: noArgs,
		Short: "Make a new file of what can be read of a damaged one",
		Long: `Reads a damaged file of projects row by row, makes a new file of what can be read, and
fills what is missing of its projects from its last good copy. The new file takes the
place of the damaged one, which is kept beside it. Of what was deleted since that copy
was made some may come back. With --look nothing is changed, and it is only said what
could be had.

  chamfer salvage --look
  chamfer salvage`,
	}
	file := fileFlag(cmd)
	cmd.Flags().StringVar(&copied, "copy", "", "fill from this copy (default: the last good one beside the file)")
	cmd.Flags().BoolVar(&without, "without-copy", false, "fill from no copy")
	cmd.Flags().BoolVar(&look, "look", false, "only say what could be had")
	cmd.RunE = func(cmd *cobra.Command, _ []string) error {
		path, err := file()
		if err != nil {
			return err
		}
		if last, ok := store.LastGood(path); ok && copied == "" && !without {
			copied = last.Path
		}
		do := store.Salvage
		if look {
			do = store.Readable
		}
		found, err := do(path, copied)
		if err != nil {
			return asked(err)
		}
		tell(cmd.OutOrStdout(), found)
		return nil
	}
	return cmd
}

// tell says what was had of a damaged file.
func tell(out io.Writer, found store.Salvaged) {
	fmt.Fprintf(out, "%s as they stood\n", measure.Count(found.Whole, "project"))
	for _, s := range found.Earlier {
		fmt.Fprintf(out, "  “%s” (project %d) at its revision %d, the newest of it that can be read\n", s.Name, s.Project,
			s.Revision)
	}
	for _, s := range found.Copied {
		fmt.Fprintf(out, "  “%s” (project %d) from the copy %s\n", s.Name, s.Project, found.Copy)
	}
	for _, s := range found.Lost {
		fmt.Fprintf(out, "  “%s” (project %d) is lost: none of its revisions can be read\n", s.Name, s.Project)
	}
	if found.Was != "" {
		fmt.Fprintf(out, "The damaged file is now %s\n", found.Was)
	}
}

// broken says what could be had of a damaged file, and how.
func broken(path string, reason error) error {
	var said strings.Builder
	last, ok := store.LastGood(path)
	found, err := store.Readable(path, "")
	if err != nil {
		fmt.Fprintf(&said, "Nothing of it can be read: %v.\n", err)
	} else {
		said.WriteString("By itself it still has:\n")
		tell(&said, found)
	}
	if ok {
		fmt.Fprintf(&said, "Its last good copy is %s, of %s: %s.\n“chamfer salvage --data %s” makes a new file of both,"+
			" and keeps the damaged one.", last.Path, last.Made.Local().Format("2 January 2006, 15:04"),
			measure.Count(last.Projects, "project"), path)
	} else {
		fmt.Fprintf(&said, "There is no good copy beside it. “chamfer salvage --data %s” makes a new file of what can be"+
			" read, and keeps the damaged one.", path)
	}
	return fmt.Errorf("%w\n%s", reason, said.String())
}

func restoreCommand() *cobra.Command {
	over := false
	cmd := &cobra.Command{
		Use: "restore IN", Args: one("copy or archive to bring back"),
		Short: "Put a copy, or an archive, in place of your file of projects",
		Long: `Puts a copy, or an archive, in place of the file of projects, which no Chamfer may be serving from.
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
