// Package several holds the comparison of several means: one-way analysis of variance with what
// follows from it, the comparisons of every two groups, effects and contrasts.
package several

import (
	"context"
	"fmt"
	"math"
	"slices"

	"grund/internal/problem"
	"grund/internal/procedure/cases"
	"grund/internal/procedure/describe"
	"grund/internal/procedure/write"
	"grund/internal/stats"
	"grund/internal/words"
	"grund/internal/working"
)

type options struct {
	comparisons, variances string
	reference              *string
	contrast               *describe.Contrast
}

func (o *options) fields() []describe.Option {
	return []describe.Option{
		describe.OneOf(&o.comparisons, "tukey", describe.Option{
			ID: "comparisons", Label: "Comparisons",
			Says: "How every two groups are compared after the test, so that all comparisons together keep to alpha.",
			Choices: []describe.Choice{
				{
					Value: "tukey", Label: "Tukey",
					Says: "made for all pairs: intervals and p-values that hold together; with variances kept apart in the form of Games and Howell",
				},
				{Value: "holm", Label: "Holm", Says: "p-values corrected step by step, for any number of comparisons; no intervals"},
				{Value: "bonferroni", Label: "Bonferroni", Says: "each p-value times the number of comparisons: simple, and careful"},
				{Value: "none", Label: "none", Says: "no comparisons of pairs"},
			},
		}),
		describe.OneOf(&o.variances, "equal", describe.Option{
			ID: "variances", Label: "Variances", Live: true, Key: "v",
			Says: "Whether all groups are taken to spread alike. Pooled is the usual form; kept apart is safe in either case.",
			Choices: []describe.Choice{
				{Value: "equal", Label: "pooled", Says: "all groups estimate one common variance"},
				{Value: "unequal", Label: "kept apart", Says: "each group's variance stands for itself (Welch)"},
			},
		}),
		describe.Level(&o.reference, describe.Option{
			ID: "reference", Label: "Reference", Of: "group", Says: "The group that each of the others is set against.",
		}),
		describe.ContrastOf(&o.contrast, describe.Option{
			ID: "contrast", Label: "Contrast", Says: "A weight for each group: what is asked of some groups against others, planned beforehand.",
		}),
	}
}

// AnovaOneWay compares the means of several groups by their variation between and within, or in
// Welch's form with variances kept apart, and then every two of them.
var AnovaOneWay = describe.New(describe.Description{
	ID:     "anova-one-way",
	Family: describe.AboutMeans,
	Title:  "Several means",
	Asks:   "Do several groups have the same mean, and which differ?",
	AlsoCalled: []string{
		"one-way analysis of variance", "ANOVA", "F test of means", "Welch's analysis of variance", "Tukey's comparisons", "planned contrast",
	},
	Takes: []describe.Takes{describe.TakesVariables, describe.TakesSummary},
	Roles: []describe.Role{cases.ResponseRole, cases.GroupRole},
}, (*options).fields, read, cases.FitsSeveralGroups("their means are compared all at once, then pair by pair"))

// severalMeans is a problem about several means.
type severalMeans struct {
	write.Sheet
	d        *describe.Description
	o        *options
	data     *cases.Groups
	moments  []stats.Moments
	equal    bool // whether variances are taken as equal
	stats    stats.OneWay
	welch    stats.Welch
	means    []stats.MeanInterval
	decimals int // with which the values were entered

	reference int
	weights   []float64 // of the contrast; nil where none is asked for
}

func read(p *problem.Problem, d *describe.Description, o *options) (describe.Task, error) {
	g, err := cases.ReadGroups(p, nil)
	if err != nil {
		return nil, err
	}
	if err := g.NeedSeveral("means"); err != nil {
		return nil, err
	}
	s := &severalMeans{d: d, o: o, data: g, moments: g.Moments(), equal: o.variances == "equal", decimals: g.Decimals()}
	s.P, s.Unit, s.Family, s.Parameter = p, g.Response.Unit, write.F("df_between", "df_within"), "mean"
	s.stats = stats.NewOneWay(s.moments)
	if err := s.judge(); err != nil {
		return nil, err
	}
	if err := s.readReference(); err != nil {
		return nil, err
	}
	if err := s.readContrast(); err != nil {
		return nil, err
	}
	s.Direction = write.Undirected(working.Compared{Of: g.Names(), By: "f"},
		s.mean()+" is the same in all groups", s.mean()+" differs between the groups")
	return s, nil
}

// judge checks that there is a spread to compare by, and compares.
func (s *severalMeans) judge() error {
	for _, g := range s.data.Each {
		if s.equal || g.Moments.SD > 0 {
			continue
		}
		says := fmt.Sprintf("“%s” has one case only", words.Shorten(g.Name))
		if g.Moments.N > 1 {
			says = fmt.Sprintf("all values of “%s” are equal", words.Shorten(g.Name))
		}
		return problem.Errors{{
			Pointer: "/options/variances", Says: says + ", and with variances kept apart each group needs a spread of its own",
			Instead: "take “equal”, or give it more cases",
		}}
	}
	at := "/roles/response"
	if s.data.Summary {
		at = "/data/summary/groups"
	}
	switch {
	case s.stats.DFWithin < 1:
		return problem.Errors{{
			Pointer: at, Says: "there is one case only in each group, so nothing shows how far cases spread", Instead: "give more cases",
		}}
	case s.stats.Within == 0:
		return problem.Errors{{
			Pointer: at, Instead: "check the data",
			Says: "no group has any spread: all values in a group are equal, so there is nothing to measure the differences by",
		}}
	}
	f := s.stats.F
	if !s.equal {
		s.welch = stats.NewWelch(s.moments)
		f = s.welch.F
	}
	if math.IsInf(f, 0) || math.IsNaN(f) || math.IsInf(s.stats.Total, 0) || s.stats.Within < 1e-290 {
		return cases.TooFarApart()
	}
	return nil
}

// noSuchLevel says that an option names a group that is not there.
func (s *severalMeans) noSuchLevel(option, wanted string) error {
	return problem.Errors{problem.Unknown(problem.Pointer("options", option), "level of “"+words.Shorten(s.data.Factor)+"”", wanted,
		s.data.Names())}
}

func (s *severalMeans) readReference() error {
	if s.o.reference == nil {
		return nil
	}
	if s.reference = s.data.Find(*s.o.reference); s.reference < 0 {
		return s.noSuchLevel("reference", *s.o.reference)
	}
	return nil
}

// response names the response inside a sentence, and mean its mean.
func (s *severalMeans) response() string { return words.InSentence(s.data.Response.Label) }
func (s *severalMeans) mean() string     { return "mean " + s.response() }

// factor names the group variable inside a sentence.
func (s *severalMeans) factor() string { return words.InSentence(s.data.Factor) }

// Work writes the solution.
func (s *severalMeans) Work(ctx context.Context) (*working.Working, error) {
	used := s.data.Used()
	s.means = s.stats.MeanIntervals(s.moments, s.equal, s.Area())
	test := "one-way analysis of variance"
	if !s.equal {
		test = "Welch analysis of variance, variances not assumed equal"
	}
	s.Start(s.d, test, s.data.Given, used)
	s.SetScale(math.Sqrt(s.stats.MSWithin * float64(len(s.data.Each)) / float64(used)))
	s.controls()
	s.Brief(working.Textf("Compare **%s** between the **%d** groups of **%s**", s.response(), len(s.data.Each), s.factor()))
	s.QuestionStep(working.Say("The question is about the means of *%s* in **%s** of *%s*: whether they are all the same. "+
		"One test answers it for all at once; comparing pair by pair without it would find differences by chance more often, the more "+
		"pairs there are.",
		s.response(), words.Count(len(s.data.Each), "group"), s.factor()))
	s.groups()
	s.look()
	s.hypotheses()
	s.variation()
	s.test()
	s.conditions()
	s.statistic()
	s.PValueStep()
	s.Decide()
	s.conclude()
	return s.Working, s.followUp(ctx)
}

func (s *severalMeans) controls() {
	s.Control(working.AlphaControl(s.P.Alpha))
	comparisons := write.OptionControl(s.d.Option("comparisons"), s.o.comparisons)
	comparisons.Beside, comparisons.Key = working.InStep, "c"
	s.Control(comparisons)
	s.LiveOption(s.d, "variances", s.o.variances)
	reference := write.OptionControl(s.d.Option("reference"), s.data.Each[s.reference].Code)
	reference.Beside, reference.Key = working.InStep, "l"
	for _, g := range s.data.Each {
		reference.Choices = append(reference.Choices, working.Choice{Value: g.Code, Label: g.Name})
	}
	s.Control(reference)
}

// hypotheses has no direction to choose: means can differ in many ways.
func (s *severalMeans) hypotheses() {
	symbols := `\mu_{1} = \mu_{2}`
	switch k := len(s.data.Each); {
	case k == 3:
		symbols += ` = \mu_{3}`
	case k > 3:
		symbols += fmt.Sprintf(` = \dots = \mu_{%d}`, k)
	}
	s.UndirectedHypotheses("all μ equal", symbols, `\text{not all } \mu_{i} \text{ equal}`,
		working.Say("H₁ names no group and no direction: it is enough that one mean differs. A question about certain groups and a direction, "+
			"asked beforehand, is a **contrast**, at the end."))
}

// statistic writes the steps on the statistic and on its critical value.
func (s *severalMeans) statistic() {
	blocks := []working.Block{
		working.Say("Every case lies at some distance from the mean of all. That distance has two parts: how far its group’s mean " +
			"lies from the mean of all, **between** the groups, and how far the case lies from its group’s mean, **within** it. " +
			"Squared and added up over all cases, the two parts make up the whole."),
		working.FigureBlock{Figure: "split"},
		working.Note("A dot is a case, the thin line its distance from its group’s mean; the thick bar is that mean’s distance " +
			"from the mean of all. Each square below has the sum of squares as its area, with a strip for each group."),
		working.FormulaBlock{Quantity: "ss_between"}, working.FormulaBlock{Quantity: "ss_within"}, working.FormulaBlock{Quantity: "ss_total"},
		working.TableBlock{Table: "split"},
		working.Note("*Between* is also called factor, treatment or model; *within* is also called error or residual."),
	}
	degrees := working.Say("Degrees of freedom: @{df_between} between, as @{groups} means are free but for one; @{df_within} within, " +
		"as of @{n} cases each group’s mean takes one away.")
	if s.equal {
		blocks = append(blocks,
			working.Say("For each degree of freedom that makes the mean squares, and F sets one against the other:"),
			working.FormulaBlock{Quantity: "ms_between"}, working.FormulaBlock{Quantity: "ms_within"}, working.FormulaBlock{Quantity: "f"},
			working.TableBlock{Table: "variance"})
	} else {
		degrees = working.Say("Degrees of freedom: @{df_between} between, as @{groups} means are free but for one; @{df_within} within, " +
			"estimated along with the spreads.")
		blocks = append(blocks, working.TableBlock{Table: "variance"},
			working.Say("The variances are **kept apart**: each group weighs by its cases and its own spread."),
			working.TableBlock{Table: "weights"}, working.FormulaBlock{Quantity: "weighted_mean"}, working.FormulaBlock{Quantity: "weighted_ms"},
			working.FormulaBlock{Quantity: "lambda"}, working.FormulaBlock{Quantity: "f"})
	}
	s.Step(working.Statistic, working.Textf("F = @{f}"), append(blocks, s.meaning())...)
	s.CriticalValueStep(append([]working.Block{
		degrees, working.FormulaBlock{Quantity: "df_within"},
		working.Note("A printed F table has the degrees of freedom between the groups in its columns and those within in its rows."),
	}, s.PrintedF(s.P.Alpha, s.Value("df_between"), math.Floor(s.Value("df_within")))...)...)
}

// meaning reads F in the unit of the response: why means that look different may not be, and the
// other way round.
func (s *severalMeans) meaning() working.Block {
	low, high := s.extremes()
	compared := "about as much as"
	switch q := math.Sqrt(s.stats.F); {
	case q >= 1.3:
		compared = working.FormatNumber(q, 1) + " times"
	case q <= 0.75:
		compared = "less than"
	}
	weights := " but for the weights"
	if s.equal {
		weights = ""
	}
	return working.Say("**What does that mean?** The means of %s and %s lie %s apart. But within a group, cases typically lie "+
		"@{pooled_sd} from their mean, so that chance alone would make means of groups of this size spread by about "+
		"@{chance_spread}. They spread by @{spread_of_means}: %s what chance would do. F is the square of that quotient%s, and "+
		"near 1 if H₀ is true.",
		s.data.Each[low].Name, s.data.Each[high].Name, s.InMeasure(s.moments[high].Mean-s.moments[low].Mean), compared, weights)
}

// extremes returns the places of the lowest and of the highest mean.
func (s *severalMeans) extremes() (low, high int) {
	means := make([]float64, len(s.moments))
	for i, m := range s.moments {
		means[i] = m.Mean
	}
	return slices.Index(means, slices.Min(means)), slices.Index(means, slices.Max(means))
}

// rangeWords says from where to where the sample means go.
func (s *severalMeans) rangeWords() string {
	low, high := s.extremes()
	return fmt.Sprintf("from %s (%s) to %s (%s)",
		s.ShowMeasure(s.moments[low].Mean), s.data.Each[low].Name, s.InMeasure(s.moments[high].Mean), s.data.Each[high].Name)
}

func (s *severalMeans) conclude() {
	s.ConclusionStep(write.Conclusion{
		Used: s.data.Used(), NotEvidence: "that all means are the same",
		More: working.Textf(" The sample means go %s.", s.rangeWords()),
		Warnings: []working.Block{
			working.Warn("It says that not all means are equal. Which differ, and by how much, is for the comparisons."),
		},
	})
	differed := "did not differ significantly"
	if s.Rejected() {
		differed = "differed significantly"
	}
	s.ReportStep(working.Textf("%s %s between the %d groups, *F*(@{df_between}, @{df_within}) = @{f}, *p* %s@{p}, "+
		"*η*² = @{eta_squared}, *ω*² = @{omega_squared}.", words.UpperFirst(s.mean()), differed, len(s.moments), s.Relation("p")),
		"F with its two degrees of freedom, p, and the size of the effect; means and standard deviations go into a table.")
}
