// Package bundle reads files that hold several problems: a ZIP of problem files, or a list of problems in one JSON.
package bundle

import (
	"archive/zip"
	"bytes"
	"errors"
	"fmt"
	"io"
	"iter"
	"path"
	"slices"
	"strings"

	"github.com/go-json-experiment/json/jsontext"

	"grund/internal/problem"
)

// What a bundle may hold, before anything of it is unpacked.
const (
	MaxProblems = 200
	// MaxFile is how many bytes a problem file in it may have.
	MaxFile = 16 << 20
	// maxEntries bounds what an archive lists, other files among them.
	maxEntries = 5000
)

// A File is one problem file of a bundle.
type File struct {
	// Name says which it is: its path in the archive, or its place in the list.
	Name string
	read func() ([]byte, error)
}

// Read returns the contents of the file. An error is of type problem.Errors.
func (f *File) Read() ([]byte, error) { return f.read() }

// Read returns the problem files of a bundle: those of a ZIP, the problems of a JSON list, or the one problem that any
// other file is. Hidden files and those of other kinds are left out. Every error is of type problem.Errors.
func Read(body []byte) ([]File, error) {
	var files []File
	var err error
	switch start := bytes.TrimLeft(bytes.TrimPrefix(body, []byte("\ufeff")), " \t\r\n"); {
	case bytes.HasPrefix(body, []byte("PK\x03\x04")), bytes.HasPrefix(body, []byte("PK\x05\x06")):
		files, err = archived(body)
	case bytes.HasPrefix(start, []byte("[")):
		files, err = listed(start)
	default:
		return []File{{read: func() ([]byte, error) { return bounded(body) }}}, nil
	}
	switch {
	case err != nil:
		return nil, err
	case len(files) == 0:
		return nil, problem.Errors{{Says: "there is no problem file in it",
			Instead: "give a ZIP with files that end in .json, or a list of problems"}}
	}
	return files, nil
}

// archived returns the problem files of a ZIP in the order of their paths.
func archived(body []byte) ([]File, error) {
	archive, err := zip.NewReader(bytes.NewReader(body), int64(len(body)))
	if err != nil {
		return nil, problem.Errors{{Says: "the ZIP cannot be read", Instead: "pack it anew"}}
	}
	if len(archive.File) > maxEntries {
		return nil, problem.Errors{{Says: fmt.Sprintf("the ZIP has %d files", len(archive.File)),
			Instead: fmt.Sprintf("keep to %d", maxEntries)}}
	}
	var files []File
	for _, entry := range archive.File {
		if !isProblemFile(entry.Name) {
			continue
		}
		if len(files) == MaxProblems {
			return nil, tooMany()
		}
		files = append(files, File{entry.Name, func() ([]byte, error) { return unpack(entry) }})
	}
	slices.SortStableFunc(files, func(a, b File) int { return strings.Compare(a.Name, b.Name) })
	return files, nil
}

// isProblemFile reports whether a path in an archive may be a problem file: systems put hidden files beside.
func isProblemFile(name string) bool {
	for _, part := range strings.Split(name, "/") {
		if strings.HasPrefix(part, ".") || part == "__MACOSX" {
			return false
		}
	}
	return strings.EqualFold(path.Ext(name), ".json")
}

// unpack reads an entry, and no more of it than it may have, whatever the archive says of its size.
func unpack(entry *zip.File) ([]byte, error) {
	const encrypted = 1 // of the flags (APPNOTE 4.4.4)
	if entry.Flags&encrypted != 0 {
		return nil, problem.Errors{{Says: "the file is encrypted", Instead: "pack it without a password"}}
	}
	r, err := entry.Open()
	if err != nil {
		return nil, damaged(err)
	}
	defer r.Close()
	file, err := io.ReadAll(io.LimitReader(r, MaxFile+1))
	if err != nil {
		return nil, damaged(err)
	}
	return bounded(file)
}

func damaged(err error) error {
	if errors.Is(err, zip.ErrAlgorithm) {
		return problem.Errors{{Says: "the file is packed in a way that is not read here", Instead: "pack it as most programs do"}}
	}
	return problem.Errors{{Says: "the file is damaged", Instead: "pack it anew"}}
}

// bounded refuses a file that is too long.
func bounded(file []byte) ([]byte, error) {
	if len(file) > MaxFile {
		return nil, problem.Errors{{Says: fmt.Sprintf("the problem file has more than %d MiB", MaxFile>>20),
			Instead: "bring its data in on the data page"}}
	}
	return file, nil
}

func tooMany() error {
	return problem.Errors{{Says: fmt.Sprintf("there are more than %d problems in it", MaxProblems), Instead: "bring them in in parts"}}
}

// listed returns the problems of a JSON list.
func listed(list []byte) ([]File, error) {
	var files []File
	for value, err := range values(list) {
		if err != nil {
			return nil, problem.Errors{{Pointer: fmt.Sprintf("/%d", len(files)), Says: "the list is not JSON from here on",
				Instead: "look for a missing comma, quote or bracket"}}
		}
		if len(files) == MaxProblems {
			return nil, tooMany()
		}
		files = append(files, File{fmt.Sprintf("problem %d of the list", len(files)+1), func() ([]byte, error) { return bounded(value) }})
	}
	return files, nil
}

// values goes through the elements of a JSON list.
func values(list []byte) iter.Seq2[[]byte, error] {
	return func(yield func([]byte, error) bool) {
		d := jsontext.NewDecoder(bytes.NewReader(list))
		if _, err := d.ReadToken(); err != nil {
			yield(nil, err)
			return
		}
		for d.PeekKind() != ']' {
			value, err := d.ReadValue()
			if !yield(bytes.Clone(value), err) || err != nil {
				return
			}
		}
		if _, err := d.ReadToken(); err != nil {
			yield(nil, err)
			return
		}
		if _, err := d.ReadToken(); !errors.Is(err, io.EOF) {
			yield(nil, errors.New("more follows after the list"))
		}
	}
}
