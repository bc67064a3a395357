package labreport

import "strings"

// Markdown returns a report for reading, its formulas in TeX between dollar signs, its pictures as their text
// alternative.
func Markdown(title string, pieces []Piece) string {
	parts := []string{"# " + title}
	for _, piece := range pieces {
		if piece.Heading != "" {
			parts = append(parts, "## "+piece.Heading)
		}
		switch {
		case piece.Gone != "":
			parts = append(parts, "*"+piece.Gone+"*")
		case len(piece.Blocks) > 0:
			parts = append(parts, strings.TrimSpace(piece.Solution.Markdown(piece.Blocks)))
		case strings.TrimSpace(piece.Text) != "":
			parts = append(parts, strings.TrimSpace(piece.Text))
		}
	}
	return strings.Join(parts, "\n\n") + "\n"
}
