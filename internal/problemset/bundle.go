package problemset

import (
	"archive/zip"
	"bytes"
	"errors"
	"fmt"
	"io"
	"path"

	"github.com/go-json-experiment/json"
	"github.com/go-json-experiment/json/jsontext"

	"grund/internal/problem"
)

// Format is the number of the form in which sets are taken along.
const Format = 1

// setFile is the file in the ZIP that says what the set is.
const setFile = "set.json"

// What a bundle may hold, before anything of it is unpacked.
const (
	maxEntry = 16 << 20
	maxFiles = 1000
)

// A Bundle is a set as it is taken along: a ZIP of set.json and the problem files that it names (docs/set.schema.json).
type Bundle struct {
	Settings
	Problems []Bundled
}

// Bundled is a problem of a bundle.
type Bundled struct {
	File   []byte
	Points Points
}

// description is set.json.
type description struct {
	Grund    int `json:"grund"`
	Settings `json:",inline"`
	Problems []described `json:"problems"`
}

type described struct {
	File   string `json:"file"` // its path in the ZIP
	Points Points `json:"points,omitempty"`
}

// Encode returns the bundle as a ZIP.
func (b *Bundle) Encode() ([]byte, error) {
	var out bytes.Buffer
	z := zip.NewWriter(&out)
	set := description{Grund: Format, Settings: b.Settings, Problems: []described{}}
	for i, p := range b.Problems {
		set.Problems = append(set.Problems, described{fmt.Sprintf("%d.json", i+1), p.Points})
	}
	text, err := json.Marshal(set, json.Deterministic(true), jsontext.WithIndent("  "))
	if err != nil {
		return nil, fmt.Errorf("encoding a set: %w", err)
	}
	entries := [][]byte{text}
	names := []string{setFile}
	for i, p := range b.Problems {
		entries, names = append(entries, p.File), append(names, set.Problems[i].File)
	}
	for i, name := range names {
		w, err := z.Create(name)
		if err == nil {
			_, err = w.Write(entries[i])
		}
		if err != nil {
			return nil, fmt.Errorf("packing a set: %w", err)
		}
	}
	if err := z.Close(); err != nil {
		return nil, fmt.Errorf("packing a set: %w", err)
	}
	return out.Bytes(), nil
}

// ReadBundle reads a ZIP. An error is of type problem.Errors, at the place in set.json.
func ReadBundle(file []byte) (*Bundle, error) {
	z, err := zip.NewReader(bytes.NewReader(file), int64(len(file)))
	if err != nil {
		return nil, problem.Errors{{Says: "this is no ZIP that can be read",
			Instead: "give a set as it was taken along, or pack set.json and its problems"}}
	}
	if len(z.File) > maxFiles {
		return nil, problem.TooMany("", fmt.Sprintf("the ZIP has %d files", len(z.File)), maxFiles, "pack set.json and its problems only")
	}
	text, err := entry(z, setFile)
	if err != nil {
		return nil, problem.Errors{{Says: "there is no set.json in the ZIP that can be read", Instead: "pack it beside the problems"}}
	}
	if err := problem.RefuseNUL(text); err != nil {
		return nil, err
	}
	var set description
	if err := problem.Decode(text, &set); err != nil {
		return nil, err
	}
	if set.Grund != Format {
		return nil, problem.Errors{{Pointer: "/grund", Says: fmt.Sprintf("the form of the file is %d", set.Grund),
			Instead: fmt.Sprintf("it must be %d", Format)}}
	}
	if err := set.Settings.Check(); err != nil {
		return nil, err
	}
	if len(set.Problems) > MaxProblems {
		return nil, problem.TooMany("/problems", fmt.Sprintf("there are %d problems", len(set.Problems)), MaxProblems, "make two sets of them")
	}
	b := &Bundle{Settings: set.Settings}
	for i, each := range set.Problems {
		at := problem.Pointer("problems", i)
		if err := each.Points.Check(at + "/points"); err != nil {
			return nil, err
		}
		text, err := entry(z, path.Clean(each.File))
		if err != nil {
			return nil, problem.Errors{{Pointer: at + "/file", Says: fmt.Sprintf("“%s” %s", each.File, err),
				Instead: "name a problem file of the ZIP"}}
		}
		b.Problems = append(b.Problems, Bundled{text, each.Points})
	}
	return b, nil
}

var errMissing = errors.New("is not in the ZIP")

// entry reads a file of a ZIP, whatever the archive says of its size.
func entry(z *zip.Reader, name string) ([]byte, error) {
	for _, f := range z.File {
		if f.Name != name {
			continue
		}
		r, err := f.Open()
		if err != nil {
			return nil, errors.New("cannot be unpacked")
		}
		defer r.Close()
		text, err := io.ReadAll(io.LimitReader(r, maxEntry+1))
		switch {
		case err != nil:
			return nil, errors.New("cannot be unpacked")
		case len(text) > maxEntry:
			return nil, fmt.Errorf("is larger than %d MiB", maxEntry>>20)
		}
		return text, nil
	}
	return nil, errMissing
}
