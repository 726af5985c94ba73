package main

import (
	"fmt"
	"os"
	"path/filepath"
	"runtime"
	"strings"
	"time"

	"github.com/spf13/cobra"

	"chamfer/store"
)

func doctorCommand() *cobra.Command {
	cmd := &cobra.Command{
		Use: "doctor", Args: noArgs,
		Short: "Look through your file of projects and how it is kept",
		Long: `Looks through the file of projects, in use or not: that it holds together and that
every project can be read; and at how it is kept: who may read it, whether its folder
may be written and has room, when its last good copy was made, what lies about beside
it, and the clock. It changes nothing.`,
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
		err = report(cmd.OutOrStdout(), path, c)
		if c.Until != "" {
			return err // a copy: it is kept as its owner has it
		}
		for _, s := range seeTo(path, c, time.Now()) {
			fmt.Fprintf(cmd.OutOrStdout(), "see to: %s\n", s)
		}
		return err
	}
	return cmd
}

// seeTo is what is not as it should be about how a file is kept, each with what to do.
func seeTo(path string, c store.Checked, now time.Time) (list []string) {
	add := func(format string, args ...any) { list = append(list, fmt.Sprintf(format, args...)) }
	folder := filepath.Dir(path)
	info, err := os.Stat(path)
	if err != nil {
		return []string{err.Error()}
	}
	if runtime.GOOS != "windows" && info.Mode().Perm()&0o077 != 0 { // there it says nothing
		add("others may read %s (%v): start Chamfer with it once, or take their leave away", path, info.Mode().Perm())
	}
	if f, err := os.CreateTemp(folder, ".chamfer-doctor-*"); err != nil {
		add("%s may not be written: no change can be kept and no copy made (%v)", folder, err)
	} else if err := os.Remove(f.Name()); err != nil || f.Close() != nil {
		add("a file in %s cannot be taken away again (%v)", folder, err)
	}
	if room, err := roomIn(folder); err == nil && room < 3*info.Size()+64<<20 {
		add("%d MB are free in %s, and a copy takes %d: make room", room>>20, folder, info.Size()>>20+1)
	}
	switch last, ok := store.LastGood(path); {
	case !ok:
		add("there is no good copy beside it: one is made within a minute of a start, or by “chamfer backup”")
	case now.Sub(last.Made) > 36*time.Hour:
		add("the last good copy is of %s: they are made while Chamfer runs; is it stopped, or does its log say why not?",
			last.Made.Local().Format("2 January 2006, 15:04"))
	}
	if newest, err := time.Parse(time.RFC3339, c.Newest); err == nil && newest.After(now.Add(time.Hour)) {
		add("the newest change is of %s, which is yet to come: set the clock of this machine", c.Newest)
	}
	beside, _ := os.ReadDir(folder)
	for _, e := range beside {
		name := e.Name()
		mine := strings.HasPrefix(name, filepath.Base(path)) &&
			(strings.HasSuffix(name, ".part") || strings.HasSuffix(name, ".unpacked"))
		if mine || strings.HasPrefix(name, ".chamfer-") {
			add("%s was left by a copy that was cut off: take it away, where none is being made", filepath.Join(folder, name))
		}
	}
	return list
}
