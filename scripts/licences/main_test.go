package main

import (
	"os"
	"strings"
	"testing"
)

// docs/licences.md has what is in the program, no more and no less, by what the go command says.
func TestListed(t *testing.T) {
	all, err := modules("chamfer/cmd/chamfer")
	if err != nil {
		t.Fatal(err)
	}
	raw, err := os.ReadFile("../../docs/licences.md")
	if err != nil {
		t.Fatal(err)
	}
	for _, m := range all {
		row := "| `" + m.Path + "` | " + m.Version + " | "
		if !strings.Contains(string(raw), row) {
			t.Errorf("docs/licences.md has no row %s: make licences", row)
		}
	}
	if rows := strings.Count(string(raw), "\n| `"); rows != len(all) || rows < 30 {
		t.Errorf("it has %d rows for %d modules: make licences", rows, len(all))
	}
	for text, want := range map[string]string{
		"Permission is hereby\ngranted, free of charge, to any person":              "MIT",
		"Redistribution and use in source and binary forms ... Neither the name of": "BSD-3-Clause",
		"Redistribution and use in source and binary forms, with or without":        "BSD-2-Clause",
		"Apache License\n    Version 2.0, January 2004":                             "Apache-2.0",
		"all rights reserved": "see its text",
	} {
		if got := kind(text); got != want {
			t.Errorf("%q is %s, want %s", text, got, want)
		}
	}
}
