// Command chamfer designs raised beds and planter frames: it serves the pages,
// plans design files, plans cuts, and prints examples.
package main

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"io"
	"os"
	"os/signal"
	"runtime/debug"
	"strings"
	"time"

	"github.com/spf13/cobra"

	"chamfer/core/catalog"
	"chamfer/core/cutting"
	"chamfer/core/design"
	"chamfer/core/money"
	"chamfer/core/plan"
	"chamfer/export"
	"chamfer/paper"
)

// version is what this program is called when it is given away.
const version = "0.1.0"

// Exit codes.
const (
	exitFault      = 1 // something went wrong
	exitMalformed  = 2 // the call or the input makes no sense
	exitInfeasible = 3 // some of what was asked cannot be had; the rest was planned
)

// coded is an error with the exit code it deserves.
type coded struct {
	code int
	err  error
}

func (c *coded) Error() string { return c.err.Error() }
func (c *coded) Unwrap() error { return c.err }

func malformed(err error) error { return &coded{exitMalformed, err} }

func main() { os.Exit(run(os.Args[1:], os.Stdin, os.Stdout, os.Stderr)) }

func run(args []string, in io.Reader, out, errOut io.Writer) int {
	root := command(in, out)
	root.SetArgs(args)
	root.SetIn(in)
	root.SetOut(out)
	root.SetErr(errOut)
	err := root.Execute()
	if err == nil {
		return 0
	}
	fmt.Fprintf(errOut, "chamfer: %v\n", err)
	var c *coded
	if errors.As(err, &c) {
		return c.code
	}
	return exitFault
}

func command(in io.Reader, out io.Writer) *cobra.Command {
	root := &cobra.Command{
		Use:   "chamfer",
		Short: "Design raised beds: dimensions, boards, cuts, screws, soil and cost",
		Long: `Chamfer designs raised beds and planter frames. Say how much planting and how
deep a soil you want; it draws the bed to scale and works out every part, the
boards to buy and how to cut them, the screws, the soil, the cost and the steps.

Exit codes: 0 done; 1 something went wrong; 2 the call or the input makes no
sense; 3 some of what was asked cannot be had, and the rest was planned.`,
		SilenceUsage: true, SilenceErrors: true,
	}
	root.SetFlagErrorFunc(func(_ *cobra.Command, err error) error { return malformed(err) })
	root.CompletionOptions.DisableDefaultCmd = true
	root.Args = func(_ *cobra.Command, args []string) error {
		if len(args) > 0 {
			return malformed(fmt.Errorf("there is no command %q; chamfer --help lists them", args[0]))
		}
		return nil
	}
	root.RunE = func(cmd *cobra.Command, _ []string) error { return cmd.Help() }
	var regions []string
	root.PersistentFlags().StringSliceVar(&regions, "region-file", nil,
		"a region of your own, besides those that there are")
	root.PersistentPreRunE = func(*cobra.Command, []string) error { return addRegions(regions, in) }
	root.AddCommand(
		serveCommand(),
		streamCommand(),
		demoCommand(),
		planCommand(in, out),
		exportCommand(in, out),
		cutCommand(in, out),
		examplesCommand(out),
		backupCommand(),
		archiveCommand(),
		restoreCommand(),
		salvageCommand(),
		doctorCommand(),
		peopleCommand(),
		levelCommand(),
		supplierCommand(),
		regionCommand(out),
		versionCommand(out),
	)
	return root
}

// read reads a file, or standard input for "-".
func read(name string, in io.Reader) ([]byte, error) {
	if name == "-" {
		return io.ReadAll(io.LimitReader(in, export.MaxFile+1))
	}
	f, err := os.Open(name)
	if err != nil {
		return nil, err
	}
	defer f.Close()
	return io.ReadAll(io.LimitReader(f, export.MaxFile+1))
}

// noArgs is for commands that take flags only.
func noArgs(cmd *cobra.Command, args []string) error {
	if len(args) > 0 {
		return malformed(
			fmt.Errorf("%s takes no %q; its flags are in chamfer %s --help", cmd.Name(), args[0], cmd.Name()),
		)
	}
	return nil
}

// one is for commands about one thing.
func one(what string) cobra.PositionalArgs {
	return func(_ *cobra.Command, args []string) error {
		if len(args) != 1 {
			return malformed(fmt.Errorf("give one %s", what))
		}
		return nil
	}
}

func planCommand(in io.Reader, out io.Writer) *cobra.Command {
	return &cobra.Command{
		Use: "plan FILE.chamfer.json", Args: one("design file, or - for standard input"),
		Short: "Print the whole plan of a design file as JSON",
		Long: `Plans a project's file and prints everything that follows from it as JSON:
parts, joints, sheets, soil, cuts, shopping, fixings, bill, findings and steps.
What the file does not say of the workshop is as usual in its region.
docs/format.md describes both files. FILE may be - for standard input.

  chamfer examples boarded > bed.chamfer.json
  chamfer plan bed.chamfer.json`,
		RunE: func(_ *cobra.Command, args []string) error {
			p, err := planned(args[0], in)
			if err != nil {
				return err
			}
			return export.WritePlan(out, p)
		},
	}
}

// planned plans a project's file.
func planned(file string, in io.Reader) (*plan.Plan, error) {
	raw, err := read(file, in)
	if err != nil {
		return nil, err
	}
	project, err := export.ReadProject(raw)
	if err != nil {
		return nil, malformed(err)
	}
	shop, err := project.Shop()
	if err != nil {
		return nil, malformed(err)
	}
	p, err := plan.Make(project.Design, shop)
	if err != nil {
		return nil, malformed(err)
	}
	return p, nil
}

func exportCommand(in io.Reader, out io.Writer) *cobra.Command {
	var asked export.Asked
	size, file := "", ""
	var long strings.Builder
	long.WriteString("Plans a project's file and prints it in one of the open formats. docs/format.md describes them:\n\n")
	for _, f := range export.Formats() {
		fmt.Fprintf(&long, "  %-20s %s\n", f.Name, f.About)
	}
	cmd := &cobra.Command{
		Use: "export FORMAT FILE.chamfer.json", Short: "Print a project in an open format",
		Long: long.String() + "\nFILE may be - for standard input.",
		Args: func(_ *cobra.Command, args []string) error {
			if len(args) != 2 {
				return malformed(errors.New("give a format and a design file; chamfer export --help lists the formats"))
			}
			return nil
		},
		RunE: func(_ *cobra.Command, args []string) error {
			f, ok := export.FormatNamed(args[0])
			if !ok {
				return malformed(fmt.Errorf("there is no format %q; chamfer export --help lists them", args[0]))
			}
			var err error
			if asked.Size, err = paper.ParseSize(size, ""); err != nil {
				return malformed(err)
			}
			p, err := planned(args[1], in)
			if err != nil {
				return err
			}
			var raw bytes.Buffer
			if err := f.Write(&raw, p, asked); err != nil {
				return err
			}
			if file != "" {
				return os.WriteFile(file, raw.Bytes(), 0o644)
			}
			_, err = raw.WriteTo(out)
			return err
		},
	}
	cmd.Flags().StringVarP(&file, "output", "o", "", "write it to this file (default: standard output)")
	cmd.Flags().StringVar(&size, "paper", "", "a4 or letter (default: what the region uses)")
	cmd.Flags().StringVar(&asked.Bed, "bed", "", "bed of a drawing, such as b2 (default: the first)")
	return cmd
}

func cutCommand(in io.Reader, out io.Writer) *cobra.Command {
	progress := false
	cmd := &cobra.Command{
		Use: "cut FILE", Args: one("cut request, or - for standard input"),
		Short: "Plan how to cut boards for the least money",
		Long: `Reads a cut request (pieces, stock with prices, kerf) and prints which boards to
buy and how to cut them, the cost, a bound that no plan can beat, and whether
the cost meets it. docs/format.md describes both files. FILE may be - for
standard input.

Pieces that cannot be had are named on standard error and listed as unmet; the
rest is planned, and the exit code is 3. A long search can be stopped with
Ctrl-C: the best plan so far is printed.`,
		RunE: func(cmd *cobra.Command, args []string) error {
			raw, err := read(args[0], in)
			if err != nil {
				return err
			}
			r, err := export.ReadCuts(raw)
			if err != nil {
				return malformed(err)
			}
			if progress {
				r.Progress = func(profile string, cost money.Amount) {
					fmt.Fprintf(cmd.ErrOrStderr(), "%s: %s so far; Ctrl-C keeps it\n", profile, cost)
				}
			}
			stop := make(chan struct{})
			r.Stop = stop
			ctx, done := signal.NotifyContext(cmd.Context(), os.Interrupt)
			defer done()
			context.AfterFunc(ctx, func() { close(stop) })
			started := time.Now()
			a, err := cutting.Solve(r)
			if err != nil {
				return malformed(err)
			}
			if err := export.WriteAnswer(out, a, export.SystemOf(raw), time.Since(started)); err != nil {
				return err
			}
			if len(a.Unmet) > 0 {
				fmt.Fprint(cmd.ErrOrStderr(), export.Reasons(a))
				return &coded{exitInfeasible, errors.New("not everything can be cut; what can is planned")}
			}
			return nil
		},
	}
	cmd.Flags().BoolVar(&progress, "progress", false, "tell of every better plan on standard error")
	return cmd
}

func examplesCommand(out io.Writer) *cobra.Command {
	region := "us"
	cmd := &cobra.Command{
		Use: "examples [NAME]", Args: func(_ *cobra.Command, args []string) error {
			if len(args) > 1 {
				return malformed(errors.New("give one example's name, or none to list them"))
			}
			return nil
		},
		Short: "List the example designs, or print one",
		RunE: func(_ *cobra.Command, args []string) error {
			if len(args) == 0 {
				for _, e := range design.Examples() {
					if _, err := fmt.Fprintf(out, "%-12s %s\n", e.Name, e.About); err != nil {
						return err
					}
				}
				return nil
			}
			c, err := catalog.ForRegion(region)
			if err != nil {
				return malformed(err)
			}
			d, err := design.ExampleNamed(args[0], c)
			if err != nil {
				return malformed(err)
			}
			raw, err := d.Encode()
			if err != nil {
				return err
			}
			_, err = out.Write(raw)
			return err
		},
	}
	cmd.Flags().StringVar(&region, "region", region, "us or metric")
	return cmd
}

func versionCommand(out io.Writer) *cobra.Command {
	return &cobra.Command{
		Use: "version", Args: noArgs, Short: "Print the version",
		RunE: func(*cobra.Command, []string) error {
			revision := "unknown revision"
			if info, ok := debug.ReadBuildInfo(); ok {
				for _, s := range info.Settings {
					if s.Key == "vcs.revision" && len(s.Value) >= 12 {
						revision = s.Value[:12]
					}
				}
			}
			_, err := fmt.Fprintf(out, "chamfer %s (%s), design files %s\n", version, revision, design.Format)
			return err
		},
	}
}
