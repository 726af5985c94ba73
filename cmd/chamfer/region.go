package main

import (
	"fmt"
	"io"

	"github.com/spf13/cobra"

	"chamfer/core/catalog"
	"chamfer/core/plan"
)

// addRegions adds regions of one's own, by their files, to those that there are.
func addRegions(files []string, in io.Reader) error {
	for _, name := range files {
		raw, err := read(name, in)
		if err != nil {
			return err
		}
		c, err := catalog.ReadRegion(raw)
		if err == nil {
			err = plan.CheckRegion(c)
		}
		if err == nil {
			err = catalog.Add(c)
		}
		if err != nil {
			return malformed(fmt.Errorf("%s: %w", name, err))
		}
	}
	return nil
}

func regionCommand(out io.Writer) *cobra.Command {
	id, name := "mine", "A region of my own"
	cmd := &cobra.Command{
		Use: "region LIKE", Args: one("region that it is like, us or metric"),
		Short: "Print a region as a file, to be changed into one of your own",
		Long: `Prints all that a region is and sells as a file, which docs/format.md describes. Change
it: other units, another currency, boards, blocks, bags, screws and sheets that your shops
have. What stays as it was may be left out. Then every command takes it:

  chamfer region metric --id lane --name "The lane" > lane.json
  chamfer serve --region-file lane.json`,
		RunE: func(_ *cobra.Command, args []string) error {
			raw, err := catalog.WriteRegion(args[0], id, name)
			if err != nil {
				return malformed(err)
			}
			_, err = fmt.Fprintf(out, "%s\n", raw)
			return err
		},
	}
	cmd.Flags().StringVar(&id, "id", id, "what files call it")
	cmd.Flags().StringVar(&name, "name", name, "what pages call it")
	return cmd
}
