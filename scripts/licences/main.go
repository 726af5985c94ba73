// Command licences lists the modules that are in the program, each with its version and licence, and gathers the words
// of all of them. What is said of a licence is read off its text.
package main

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"
)

type module struct{ Path, Version, Dir string }

func main() {
	if len(os.Args) != 3 {
		fmt.Fprintln(os.Stderr, "usage: licences LIST TEXTS")
		os.Exit(2)
	}
	if err := write(os.Args[1], os.Args[2]); err != nil {
		fmt.Fprintln(os.Stderr, "licences:", err)
		os.Exit(1)
	}
}

// write lists the modules in one file, and gathers their texts in another.
func write(list, texts string) error {
	all, err := modules("./cmd/chamfer")
	if err != nil {
		return err
	}
	var table, words bytes.Buffer
	table.WriteString("# Licences\n\nWhat is in the program besides its own code, by `make licences`; the words of each" +
		" are in `dist/LICENCES.txt` of a release, those of the fonts and scripts that ship with the pages in" +
		" [LICENSES.txt](../web/static/LICENSES.txt).\n\n| Module | Version | Licence |\n|---|---|---|\n")
	for _, m := range all {
		text, err := licence(m.Dir)
		if err != nil {
			return fmt.Errorf("%s: %w", m.Path, err)
		}
		fmt.Fprintf(&table, "| `%s` | %s | %s |\n", m.Path, m.Version, kind(text))
		fmt.Fprintf(&words, "==== %s %s\n\n%s\n\n", m.Path, m.Version, strings.TrimSpace(text))
	}
	return errors.Join(os.WriteFile(list, table.Bytes(), 0o644), os.WriteFile(texts, words.Bytes(), 0o644))
}

// modules are those whose packages a command is built of, by path.
func modules(command string) ([]module, error) {
	out, err := exec.Command("go", "list", "-deps", "-json=Module", command).Output()
	if err != nil {
		return nil, err
	}
	var all []module
	for in := json.NewDecoder(bytes.NewReader(out)); ; {
		var p struct{ Module *module }
		err := in.Decode(&p)
		if errors.Is(err, io.EOF) {
			break
		}
		if err != nil {
			return nil, err
		}
		if p.Module != nil && p.Module.Version != "" && !slices.Contains(all, *p.Module) {
			all = append(all, *p.Module)
		}
	}
	slices.SortFunc(all, func(a, b module) int { return strings.Compare(a.Path, b.Path) })
	return all, nil
}

// licence is the text of a module's.
func licence(dir string) (string, error) {
	for _, name := range []string{"LICENSE", "LICENSE.txt", "LICENSE.md", "COPYING", "LICENCE", "License"} {
		if raw, err := os.ReadFile(filepath.Join(dir, name)); err == nil {
			return string(raw), nil
		}
	}
	return "", errors.New("it has no licence")
}

// kind is what a licence is called, by words that only it has.
func kind(text string) string {
	plain := strings.Join(strings.Fields(text), " ")
	has := func(words string) bool { return strings.Contains(plain, words) }
	var kinds []string
	if has("Permission is hereby granted, free of charge") {
		kinds = append(kinds, "MIT")
	}
	if has("Apache License") && has("Version 2.0") {
		kinds = append(kinds, "Apache-2.0")
	}
	if has("Redistribution and use in source and binary forms") {
		if has("Neither the name") || has("names of its contributors") || has("nor the names") {
			kinds = append(kinds, "BSD-3-Clause")
		} else {
			kinds = append(kinds, "BSD-2-Clause")
		}
	}
	if has("Mozilla Public License Version 2.0") || has("Mozilla Public License, version 2.0") {
		kinds = append(kinds, "MPL-2.0")
	}
	if len(kinds) == 0 {
		return "see its text"
	}
	return strings.Join(kinds, " and ")
}
