package data

import (
	"bytes"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// awkward is a data set with everything that gets lost easily.
func awkward() *Set {
	s := &Set{Name: "awkward", Form: FormCases, Columns: []*Column{
		{Name: "pier", Label: "Pier of departure", Kind: Category, Levels: []string{"2", "1"},
			LevelNames: map[string]string{"1": `Mole; "north"`, "2": "Quarry = new"}, Cells: []string{"1", "2", "", "1"}},
		{Name: "note, with comma", Cells: []string{"a \"quoted\" word", "two\nlines", " <tag> & more", "x"}},
		{Name: "takings", Label: "Takings", Unit: "crowns", Scale: 100, Kind: Number, Cells: []string{"12,5", "1 234", "", "007"}},
		{Name: "minutes", Unit: "min", Cells: []string{"12.10", "11.8", "oops", "-3"}},
		{Name: "id", Kind: Identifier, Cells: []string{"001", "002", "003", "004"}},
		{Name: "late", Formula: `minutes > 12 ? "late" : "on time"`},
	}}
	s.AssignKeys()
	s.Derive()
	return s
}

func TestWrittenAndReadAgain(t *testing.T) {
	for _, format := range []Format{CSV, TSV, XLSX, ODS} {
		t.Run(string(format), func(t *testing.T) {
			s := awkward()
			var file bytes.Buffer
			require.NoError(t, s.Write(&file, format))
			sheet, err := Read(t.Context(), file.Bytes(), Options{})
			require.NoError(t, err)
			got := sheet.SetOf("awkward")
			require.Len(t, got.Columns, len(s.Columns))
			for i, want := range s.Columns {
				c := got.Columns[i]
				assert.Equal(t, want.Name, c.Name)
				for j, cell := range want.Cells {
					if want.Name == "note, with comma" && j == 2 {
						cell = "<tag> & more" // white space around a cell is not kept
					}
					assert.Equal(t, cell, c.Cells[j], "%s, row %d", want.Name, j+1)
				}
				if format == XLSX || format == ODS {
					assert.Equal(t, []any{want.Label, want.UnitText(), want.Levels, want.LevelNames}, []any{c.Label, c.Unit, c.Levels, c.LevelNames})
					assert.Equal(t, want.kind(), c.kind())
				}
			}
		})
	}
}

func TestScaleIsCarriedIntoTheUnit(t *testing.T) {
	variables, _, _ := awkward().Variables()
	assert.Equal(t, "hundreds of crowns", variables[2].Unit)
	assert.Equal(t, "min", variables[3].Unit)
}

func TestUnknownFormat(t *testing.T) {
	assert.ErrorContains(t, awkward().Write(&bytes.Buffer{}, "pdf"), "no format")
}
