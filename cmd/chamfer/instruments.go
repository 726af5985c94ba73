package main

import (
	"context"
	"fmt"
	"math/rand/v2"
	"os"
	"os/signal"
	"syscall"
	"time"

	"github.com/spf13/cobra"

	"chamfer/core/catalog"
	"chamfer/sim"
)

// demoLevel is an invented level that stands in an invented garden.
func demoLevel() *sim.Level {
	return &sim.Level{Right: 3.5, Out: -1.5, Up: 1.55, Ground: sim.Garden, Noise: 0.3, Rand: rand.New(rand.NewPCG(8, 420))}
}

// plugIn starts stand-ins for the instruments that no address is given of.
func (o *serving) plugIn() (unplug func(), err error) {
	var all []func() error
	unplug = func() {
		for _, stop := range all {
			_ = stop()
		}
	}
	probe := &sim.Probe{Wet: 24, Rand: rand.New(rand.NewPCG(3, 1))}
	for _, x := range []struct {
		at     *string
		device sim.Device
	}{{&o.level, demoLevel()}, {&o.timer, &sim.Timer{}}, {&o.probe, probe}, {&o.station, &sim.Station{Seed: 14}}} {
		if *x.at != "" {
			continue
		}
		at, stop, err := sim.Start("127.0.0.1:0", x.device, sim.Faults{Latency: 40 * time.Millisecond})
		if err != nil {
			return unplug, err
		}
		*x.at, all = at, append(all, stop)
	}
	if o.supplier == "" {
		at, stop, err := sim.StartSupplier("127.0.0.1:0", demoSupplier())
		if err != nil {
			return unplug, err
		}
		o.supplier, all = at, append(all, stop)
	}
	return unplug, nil
}

// demoSupplier is an invented supplier that sells nearly everything the catalogues know.
func demoSupplier() *sim.Supplier {
	s := &sim.Supplier{Seed: 24, Now: time.Now}
	for _, c := range catalog.Regions() {
		for i, w := range c.Wares() {
			if i%7 != 3 { // not all
				s.Articles = append(s.Articles, sim.Article{Region: c.ID, Item: w.SKU, Name: w.Name, Price: w.Price})
			}
		}
	}
	return s
}

func supplierCommand() *cobra.Command {
	addr := ""
	supplier := demoSupplier()
	cmd := &cobra.Command{
		Use: "supplier", Args: noArgs,
		Short: "Start a stand-in for a builders' supplier",
		Long: `Starts a stand-in for a builders' supplier, whose invented prices move from day to day
and whose stock runs out through the week. It serves its own description, in OpenAPI,
at /openapi.json. A quote is no order. Its faults can be chosen.

  chamfer supplier --addr 127.0.0.1:8460 --faults 200 --slow 500ms
  chamfer serve --supplier http://127.0.0.1:8460`,
		RunE: func(cmd *cobra.Command, _ []string) error {
			at, stop, err := sim.StartSupplier(addr, supplier)
			if err != nil {
				return err
			}
			fmt.Fprintf(cmd.OutOrStdout(), "The supplier answers at %s; Ctrl-C shuts it\n", at)
			ctx, end := signal.NotifyContext(context.Background(), os.Interrupt, syscall.SIGTERM)
			defer end()
			<-ctx.Done()
			return stop()
		},
	}
	cmd.Flags().StringVar(&addr, "addr", "127.0.0.1:8460", "address to answer on")
	cmd.Flags().Uint64Var(&supplier.Seed, "seed", supplier.Seed, "of its prices and its stock")
	cmd.Flags().IntVar(&supplier.Faults.PerMille, "faults", 0, "of a thousand requests so many go wrong")
	cmd.Flags().DurationVar(&supplier.Faults.Slow, "slow", 0, "how long each answer takes at least")
	return cmd
}

func levelCommand() *cobra.Command {
	addr := ""
	level := demoLevel()
	var f sim.Faults
	cmd := &cobra.Command{
		Use: "level", Args: noArgs,
		Short: "Start a stand-in for a digital level",
		Long: `Starts a stand-in for a digital level, which looks at a staff in an invented garden
and speaks the protocol of docs/instruments.md. Its faults can be chosen.

  chamfer level --addr 127.0.0.1:8430 --noise 0.5 --drop 7
  chamfer serve --level 127.0.0.1:8430`,
		RunE: func(cmd *cobra.Command, _ []string) error {
			at, unplug, err := sim.Start(addr, level, f)
			if err != nil {
				return err
			}
			fmt.Fprintf(cmd.OutOrStdout(), "The level answers at %s; Ctrl-C unplugs it\n", at)
			ctx, stop := signal.NotifyContext(context.Background(), os.Interrupt, syscall.SIGTERM)
			defer stop()
			<-ctx.Done()
			return unplug()
		},
	}
	cmd.Flags().StringVar(&addr, "addr", "127.0.0.1:8430", "address to answer on")
	cmd.Flags().Float64Var(&level.Noise, "noise", level.Noise, "of one reading, mm")
	cmd.Flags().Float64Var(&level.Tilt, "tilt", 0, "its line of sight rises so many mm to the metre")
	cmd.Flags().IntVar(&f.Drop, "drop", 0, "every so many answers one is lost")
	cmd.Flags().IntVar(&f.Garble, "garble", 0, "every so many answers one is spoilt")
	cmd.Flags().IntVar(&f.Unplug, "unplug", 0, "every so many questions the plug comes out")
	return cmd
}
