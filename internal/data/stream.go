package data

import (
	"bytes"
	"context"
	"fmt"
	"io"
	"strings"

	"grund/internal/plaintext"
)

// A Stream reads a file block by block, so that a long one never lies in memory as
// a whole. Delimited text is read as it comes; a spreadsheet or JSON must be there
// to its end before its first row is known.
type Stream struct {
	set       *Set
	blockRows int
	rows      int        // handed on so far
	ready     [][]string // rows in hand, in columns
	text      *rowReader
	blanks    int // blank rows that count only if something follows
}

// peeked is how much of a file is looked at before it is decided how to read it.
// A shorter file is read as a whole.
const peeked = 1 << 20

// NewStream begins to read a file in blocks of that many rows. name is what the
// data set will be called.
func NewStream(ctx context.Context, name string, file io.Reader, blockRows int) (*Stream, error) {
	start := make([]byte, peeked)
	n, err := io.ReadFull(file, start)
	start = start[:n]
	s := &Stream{blockRows: blockRows}
	whole := err == io.EOF || err == io.ErrUnexpectedEOF
	if err != nil && !whole {
		return nil, fmt.Errorf("reading the file: %w", err)
	}
	file = io.MultiReader(bytes.NewReader(start), file)
	first := strings.TrimLeft(string(start[:min(len(start), 100)]), " \t\r\n\ufeff")
	if whole || IsArchive(start) || strings.HasPrefix(first, "[") {
		all, err := io.ReadAll(file)
		if err != nil {
			return nil, fmt.Errorf("reading the file: %w", err)
		}
		sheet, err := Read(ctx, all, Options{})
		if err != nil {
			return nil, err
		}
		s.set = sheet.SetOf(name)
		for _, c := range s.set.Columns {
			s.ready = append(s.ready, c.Cells)
		}
		return s, nil
	}
	if bytes.HasPrefix(start, []byte("\xd0\xcf\x11\xe0")) || bytes.HasPrefix(start, []byte("%PDF")) ||
		bytes.HasPrefix(start, []byte("\x89PNG")) {
		_, err := Read(ctx, start, Options{}) // says what it is
		return nil, err
	}
	return s, s.begin(name, file, start)
}

// begin reads the first block of delimited text and learns the columns from it.
func (s *Stream) begin(name string, file io.Reader, start []byte) error {
	reader := plaintext.NewReader(file, start)
	head, err := plaintext.Decode(start[:len(start)&^3]) // UTF-16 is not cut in the middle
	if err != nil {
		return err
	}
	if strings.TrimSpace(head) == "" {
		return ErrEmpty
	}
	head = strings.TrimPrefix(head, "\ufeff")
	var lines io.Reader = reader
	if bareReturns(head) {
		lines, head = returnReader{reader}, strings.ReplaceAll(head, "\r", "\n")
	}
	s.text = newRowReader(lines, separator(head))
	var rows [][]string
	for len(rows) < s.blockRows {
		row, err := s.text.next()
		if err == io.EOF {
			break
		}
		if err != nil {
			return err
		}
		rows = append(rows, row)
	}
	rows = trimRows(rows)
	switch {
	case len(rows) == 0:
		return ErrEmpty
	case onlyNames(rows):
		return ErrNoCase
	}
	sheet := &Sheet{}
	if err := sheet.fill(rows, nil); err != nil {
		return err
	}
	s.set = sheet.SetOf(name)
	for _, c := range s.set.Columns {
		s.ready = append(s.ready, c.Cells)
		c.Cells = nil
	}
	s.text.csv.ReuseRecord = true
	return nil
}

// Set describes the columns that have come so far. It holds no cells of a long file.
func (s *Stream) Set() *Set { return s.set }

// Rows is how many rows have been handed on.
func (s *Stream) Rows() int { return s.rows }

// Next returns the next block, the cells of each column, or io.EOF after the last.
func (s *Stream) Next() ([][]string, error) {
	for s.text != nil && s.length() < s.blockRows {
		row, err := s.text.next()
		if err == io.EOF {
			s.text = nil
			break
		}
		if err != nil {
			return nil, err
		}
		s.add(row)
	}
	n := min(s.length(), s.blockRows)
	if n == 0 {
		return nil, io.EOF
	}
	if err := checkArea(s.rows+n, len(s.ready)); err != nil {
		return nil, err
	}
	block := make([][]string, len(s.ready))
	for i, cells := range s.ready {
		block[i] = cells[:n:n]
		if s.ready[i] = cells[n:]; len(cells) == n {
			s.ready[i] = make([]string, 0, s.blockRows)
		}
	}
	s.rows += n
	return block, nil
}

func (s *Stream) length() int {
	if len(s.ready) == 0 {
		return 0
	}
	return len(s.ready[0])
}

// add puts a row at the end of the columns, after blank ones that came before it.
func (s *Stream) add(row []string) {
	if blank(row) {
		s.blanks++
		return
	}
	for ; s.blanks > 0; s.blanks-- {
		for i := range s.ready {
			s.ready[i] = append(s.ready[i], "")
		}
	}
	for i, cell := range row {
		cell = strings.TrimSpace(cell)
		if i == len(s.ready) {
			if cell == "" {
				continue
			}
			s.set.Columns = append(s.set.Columns, &Column{})
			s.set.AssignKeys()
			s.ready = append(s.ready, make([]string, s.length()-1, s.blockRows))
		}
		s.ready[i] = append(s.ready[i], cell)
	}
	for i := len(row); i < len(s.ready); i++ {
		s.ready[i] = append(s.ready[i], "")
	}
}
