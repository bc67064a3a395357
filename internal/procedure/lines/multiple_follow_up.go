package lines

import (
	"cmp"
	"fmt"
	"maps"
	"math"
	"slices"

	"grund/internal/data"
	"grund/internal/problem"
	"grund/internal/procedure/cases"
	"grund/internal/procedure/write"
	"grund/internal/stats"
	"grund/internal/words"
	"grund/internal/working"
)

// referenceControls offer another reference for each category.
func (s *severalPredictors) referenceControls() {
	for k, v := range s.predictors {
		if v.Kind != data.Category {
			continue
		}
		with := func(code string) map[string]string {
			references := map[string]string{}
			maps.Copy(references, s.o.references)
			references[v.Name] = code
			return references
		}
		in := s.categories[v]
		c := working.Control{
			ID: referenceID(k), Label: "Reference of " + words.InSentence(v.Title()), Pointer: "/options/references", Beside: working.InStep,
			Value: with(v.Levels[in.reference].Code),
		}
		for _, code := range in.levels {
			c.Choices = append(c.Choices, working.Choice{Value: with(v.Levels[code].Code), Label: v.Levels[code].Name})
		}
		s.Control(c)
	}
}

// referenceID names the control of the reference of a predictor.
func referenceID(k int) string { return fmt.Sprintf("reference_%d", k+1) }

// fittedFigure draws what was observed against what the fit gives.
func (s *severalPredictors) fittedFigure() *working.Figure {
	fitted := fittedValues(s.each)
	low, high := slices.Min(fitted), slices.Max(fitted)
	f := &working.Figure{
		ID: "fitted", Form: working.Scatter, Title: "Observed against fitted",
		Says: "Observed against fitted values, with the line on which the two agree.",
		Axis: working.Axis{Label: "fitted", Unit: s.Unit}, Up: &working.Axis{Label: s.response.heading.Label, Unit: s.Unit},
		Marks: []working.Mark{
			{Shape: working.Line, Role: working.Expected, X: working.Positions(low, high), Y: working.Positions(low, high)},
			{Shape: working.Points, Role: working.Observed, X: working.Positions(fitted...), Y: working.Positions(s.response.y...), Case: s.rows},
		},
	}
	f.Axis.Min, f.Axis.Max = write.Axis(fitted...)
	f.Up.Min, f.Up.Max = write.Axis(slices.Concat(s.response.y, fitted)...)
	return f
}

// followUp writes the last step; first is what comes before all else.
func (s *severalPredictors) followUp(first ...working.Block) {
	blocks := append(first,
		working.Say("**How close is it?** R² = @{r_squared}; adjusted for the number of coefficients @{adjusted_r_squared}. "+
			"Cases typically lie @{residual_sd} from what the fit gives."),
		working.FormulaBlock{Quantity: "r_squared"}, working.FormulaBlock{Quantity: "adjusted_r_squared"})
	if s.testsSlope() {
		more := "do not explain more than chance would"
		if s.overallRejected() {
			more = "explain more than chance would"
		}
		blocks = append(blocks, working.Say("**All predictors together** %s: F = @{f}, p %s@{p_f}.", more, s.Relation("p_f")),
			working.TableBlock{Table: "variance"})
	}
	blocks = append(blocks, s.coefficientBlocks()...)
	blocks = append(blocks, s.oddities()...)
	if len(s.compared) > 0 {
		blocks = append(blocks, working.Say("**Fits side by side**, all on the same cases. Where one lies inside the other, F "+
			"tests whether what the larger one has more is needed. Of any two fits, the one with the smaller AIC (Akaike’s "+
			"criterion) is closer for the coefficients it takes; the number itself says nothing."), working.TableBlock{Table: "fits"})
	}
	blocks = append(blocks, working.Say("**Predict a new case.**"), s.placeBlock())
	if len(s.places) > 0 {
		blocks = append(blocks, working.TableBlock{Table: "predictions"})
		if s.response.log {
			blocks = append(blocks, working.TableBlock{Table: "predictions_measured"}, s.response.medianWarning())
		}
	}
	blocks = append(blocks, working.Say("**Fitted against observed.** To the right what the fit gives, upward what was observed; on the "+
		"line the two agree."),
		working.FigureBlock{Figure: "fitted", Actions: s.dropActions()})
	if len(s.predictors) > 1 {
		blocks = append(blocks, working.Note("Is each predictor needed? Take one away and compare the two fits."))
	}
	s.Step(working.FollowUp, working.Textf("R² = @{r_squared}"), append(blocks,
		working.Say("**Case by case**: what was observed, what the fit gives, and what is left."), working.TableBlock{Table: "cases"},
		s.response.derived(s.fit.Coefficients, s.termFormulas()))...)
}

// coefficientBlocks shows the coefficients, and offers other predictors and references.
func (s *severalPredictors) coefficientBlocks() []working.Block {
	blocks := []working.Block{working.Say("**Each predictor, given the others.** A coefficient says how much the response changes " +
		"with one unit of its predictor while the others stay as they are.")}
	if !s.overallRejected() {
		s.Dim("coefficients")
		blocks = append(blocks, working.Warn("The test of all predictors together has not rejected. A single one that comes up "+
			"below is a hint for a new study, not a finding of this one."))
	}
	blocks = append(blocks, working.ChoiceBlock{
		Pointer: "/roles/predictors", Label: "Predictors", Choices: s.candidates(),
		Drops: append([]string{"/options/predict_at", "/options/references"}, s.slopeSettings()...), Keep: s.keep(),
	})
	for k, v := range s.predictors {
		if v.Kind == data.Category {
			blocks = append(blocks, working.ControlBlock{Control: referenceID(k)})
		}
	}
	if len(s.terms) <= mostSlopes {
		blocks = append(blocks, working.Say("One of them may be tested in full, with hypotheses of its own:"),
			working.ControlBlock{Control: "slope"})
	}
	blocks = append(blocks, working.TableBlock{Table: "coefficients"},
		working.Note("The coefficients solve the normal equations: the residuals add up to 0, and so do their products with the values of each "+
			"predictor. With a row for each case in the matrix X, a 1 and the values of the predictors, that is XᵀX b = Xᵀy."),
		working.Warn("Coefficients have different units and must not be compared for importance as they are. In standard deviations they "+
			"can, with care:"),
		working.TableBlock{Table: "standardized"},
		working.Note("Inflation says how many times larger the variance of a coefficient is because its predictor goes with the others; 1 "+
			"is none."))
	if s.response.log {
		blocks = append(blocks, working.Say("**Read back in %s.** What %s is multiplied by for one more of a predictor, the others as they are:",
			s.response.unitWords(), s.response.ownName()), working.TableBlock{Table: "factors"})
	}
	return blocks
}

// termFormulas writes each term as a formula on the variables of the data.
func (s *severalPredictors) termFormulas() []string {
	formulas := make([]string, len(s.terms))
	for i, t := range s.terms {
		formulas[i] = s.predictors[t.variable].Name
		if t.level != "" {
			formulas[i] = fmt.Sprintf("(%s == %q ? 1 : 0)", formulas[i], t.level)
		}
	}
	return formulas
}

// placeBlock asks for a new case, at first the one that was asked for last or one in the middle.
func (s *severalPredictors) placeBlock() working.PlaceBlock {
	b := working.PlaceBlock{Pointer: "/options/predict_at"}
	for k, v := range s.predictors {
		field := working.PlaceField{Label: v.Title(), Unit: v.Unit}
		if v.Kind == data.Number {
			values := s.terms[slices.IndexFunc(s.terms, func(t term) bool { return t.variable == k })].values
			field.Value = working.FormatShortest(stats.NewFiveNumbers(stats.Sorted(values)).Median)
		} else {
			c := s.categories[v]
			for _, code := range c.levels {
				field.Levels = append(field.Levels, v.Levels[code].Name)
			}
			field.Value = v.Levels[c.reference].Name
		}
		if len(s.places) > 0 {
			field.Value = s.o.predictAt[0][k]
			if field.Levels != nil {
				field.Value = v.Levels[v.FindLevel(field.Value)].Name
			}
		}
		b.Fields = append(b.Fields, field)
	}
	return b
}

// keep sets the present predictors among the fits to compare; nil where they are.
func (s *severalPredictors) keep() *working.Action {
	present := s.P.Roles["predictors"]
	lists := [][]string{}
	for _, one := range s.compared {
		names := make([]string, len(one.variables))
		for i, v := range one.variables {
			names[i] = v.Name
		}
		if slices.Equal(names, present) {
			return nil
		}
		lists = append(lists, names)
	}
	return &working.Action{
		ID: "keep-fit", Label: "Keep this fit to compare", Says: "It stays in the table of fits when other predictors are ticked.",
		Set: []problem.Set{{Pointer: "/options/compare", Value: append(lists, present)}},
	}
}

// candidates are the variables that may be predictors, those that are first.
func (s *severalPredictors) candidates() []working.Ticked {
	var out []working.Ticked
	for _, v := range s.predictors {
		out = append(out, working.Ticked{Value: v.Name, Label: v.Title(), Chosen: true})
	}
	const most = 12 // levels
	for _, v := range s.P.Data.Variables {
		if v == s.response.variable || slices.Contains(s.predictors, v) {
			continue
		}
		if levels := cases.Used(v); v.Kind == data.Number || v.Kind == data.Category && levels >= 2 && levels <= most {
			out = append(out, working.Ticked{Value: v.Name, Label: v.Title()})
		}
	}
	return out
}

// oddities says where a coefficient contradicts its correlation, and where a fitted value cannot
// be.
func (s *severalPredictors) oddities() []working.Block {
	var blocks []working.Block
	for j, t := range s.terms {
		b := s.fit.Coefficients[j+1]
		c := stats.Correlate(t.values, s.response.y)
		if c.R*b < 0 && c.P() <= s.P.Alpha {
			blocks = append(blocks, working.Warn("By itself %s goes the other way: its correlation with %s is %s, and its "+
				"coefficient beside the others is %s. Both are right; they answer different questions.",
				words.InSentence(t.shown), s.yName(), working.FormatNumber(c.R, 2),
				working.FormatNumber(b, working.SmallestDecimals(s.fit.SE[j+1]))))
		}
	}
	if worst := slices.Min(fittedValues(s.each)); slices.Min(s.response.y) >= 0 && !s.response.log && worst < 0 {
		blocks = append(blocks, working.Warn("The fit gives a value of %s where nothing below 0 was observed: there it cannot be right.",
			working.FormatNumber(worst, s.response.decimals+1)))
	}
	return blocks
}

// dropActions offers the fit without each predictor, the weakest first, beside this one.
func (s *severalPredictors) dropActions() []working.Action {
	if len(s.predictors) < 2 {
		return nil
	}
	const most = 4
	order, strength := make([]int, len(s.predictors)), make([]float64, len(s.predictors))
	for k := range order {
		order[k] = k
	}
	for j, t := range s.terms {
		strength[t.variable] = math.Max(strength[t.variable], math.Abs(s.fit.Coefficients[j+1]/s.fit.SE[j+1]))
	}
	slices.SortFunc(order, func(a, b int) int { return cmp.Compare(strength[a], strength[b]) })
	var actions []working.Action
	for _, k := range order[:min(len(order), most)] {
		rest := slices.Delete(slices.Clone([]string(s.P.Roles["predictors"])), k, k+1)
		set := []problem.Set{{Pointer: "/roles/predictors", Value: rest}, {Pointer: "/options/predict_at"}}
		if name := s.predictors[k].Name; s.o.references[name] != "" && !s.compares(s.predictors[k]) {
			set = append(set, problem.Set{Pointer: problem.Pointer("options", "references", name)})
		}
		if s.testsSlope() && s.terms[s.slope].variable == k {
			for _, pointer := range s.slopeSettings() {
				set = append(set, problem.Set{Pointer: pointer})
			}
		}
		actions = append(actions, working.Action{
			ID: fmt.Sprintf("without-%d", k+1), Label: "Without " + words.InSentence(s.predictors[k].Title()), Compare: true,
			Says: "Fits the other predictors alone, beside this fit.", Set: set,
		})
	}
	return actions
}

// compares reports whether a fit to compare has the predictor.
func (s *severalPredictors) compares(v *data.Variable) bool {
	return slices.ContainsFunc(s.compared, func(fit comparedFit) bool { return slices.Contains(fit.variables, v) })
}

// perfect writes what can be said where every case is fitted without a residual.
func (s *severalPredictors) perfect() {
	for _, none := range [][3]string{{"f", "F", "Test statistic"}, {"p", "p", "p-value"}} {
		s.Define(working.Quantity{
			ID: working.Ref(none[0]), Symbol: none[1], Label: none[2], Says: "There is none where every case is fitted without a residual.",
		}, working.Ratio, math.NaN(), nil)
	}
	s.Note(working.Statistic, "Every case is fitted without a residual: there is nothing to measure the coefficients by, so there is no test.")
	s.Step(working.Statistic, working.Textf("R² = @{r_squared}"), working.FormulaBlock{Quantity: "ss_total"},
		working.FormulaBlock{Quantity: "ss_residual"},
		working.Warn("Every case is fitted without a residual. That is seldom so with things that were measured: "+
			"look whether one was calculated from the others."))
	s.ConcludeOtherwise("no test", working.Textf("All %d cases are fitted without a residual. Without any there is nothing to test.", s.fit.N))
	s.ReportStep(working.Textf("%s on %s: all %d cases fitted without a residual.", words.UpperFirst(s.yName()), s.predictorWords(),
		s.fit.N), "")
	s.varianceTable("")
	blocks := []working.Block{working.TableBlock{Table: "coefficients"}, working.TableBlock{Table: "variance"}}
	if len(s.compared) > 0 {
		blocks = append(blocks, working.TableBlock{Table: "fits"})
	}
	if len(s.places) > 0 {
		blocks = append(blocks, working.TableBlock{Table: "predictions"})
	}
	s.Step(working.FollowUp, nil, append(blocks, working.TableBlock{Table: "cases"})...)
}
