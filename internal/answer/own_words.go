package answer

import (
	"regexp"
	"strings"
)

// oneOf is a pattern of any of the words.
func oneOf(words string) string { return "(?:" + strings.Join(strings.Fields(words), "|") + ")" }

// What sentences say, in small letters: parts that several patterns share.
var (
	h0 = `(?:h ?_?0|(?:the )?null(?: hypothesis)?)`
	h1 = `(?:h ?_?[1a]|(?:the )?(?:alternative|research)(?: hypothesis)?)`

	is       = oneOf("is are was were")
	relation = oneOf("difference effect relation relationship association connection influence link correlation")
	states   = oneOf("show shows showed shown support supports supported demonstrate demonstrates demonstrated indicate indicates suggest " +
		"suggests prove proves proved proven conclude concluded confirm confirms establish established")
	finds = oneOf("say said find found detect detected tell differ")
	odds  = oneOf("probability chance likelihood odds")
)

// How a decision is stated.
var (
	notRejected = regexp.MustCompile(
		`\b(?:not|never|cannot|fail(?:s|ed|ing)? to|failure to|unable to) (?:be )?(?:reject|abandon|discard)(?:ed)?\b` +
			`|\bretain(?:s|ed)?\b|\bkeep(?:s)? ` + h0 + `|\bstick(?:s)? (?:to|with) ` + h0 +
			`|\b(?:no|not|insufficient|not enough|too little|little|lacking|lack of)(?: \w+){0,3}? (?:evidence|proof|indication)` +
			`|\bevidence (?:is|was) (?:not|in)\s?(?:sufficient|enough|strong)` +
			`|\b(?:not|in)\s?-?significant|\bnonsignificant|\bno(?: \w+){0,3}? significant|\bnot (?:\w+ ){0,2}?significantly` +
			`|\b(?:not|cannot|fail(?:s|ed)? to) (?:\w+ )?(?:` + states + `|` + finds + `)\b`)
	rejected = regexp.MustCompile(`\breject(?:s|ed|ing)?\b|\bevidence\b|\bsignificant(?:ly)?\b|\b` + states + `\b`)
	equal    = regexp.MustCompile(
		`\b(?:there ` + is + `|exists?|shows?|makes?|has|have) no (?:real |true |actual |mean |such )?` + relation + `\b` +
			`|\bno ` + relation + ` (?:exists?|at all)\b` +
			`|\b` + is + ` (?:all |just |exactly |therefore )?` + `(?:equal|the same|identical|alike|unrelated|independent)` + `\b` +
			`|\bdo(?:es)? not differ(?: at all| from| between| in|[.,;:]|$)`)
	differs = regexp.MustCompile(`\bnot (?:all )?(?:equal|the same|alike|identical|independent|unrelated)\b` +
		`|\b` + is + ` (?:\w+ )?(?:different|unequal)\b|\bdiffers?\b|\bdepends? on\b|\bgoes with\b`)
	greater = regexp.MustCompile(`\b(?:increas\w*|positive(?:ly)?|upwards?|` + oneOf("higher greater larger more longer bigger above "+
		"exceeds? rises? rising slower later older heavier better commoner grows?") + `)\b`)
	smaller = regexp.MustCompile(`\b(?:decreas\w*|negative(?:ly)?|downwards?|` + oneOf("lower less smaller fewer shorter below falls? "+
		"falling faster earlier younger lighter worse rarer shrinks?") + `)\b`)
)

// What is underlined. Of each list the first that matches counts.
var (
	acceptsH0 = []*regexp.Regexp{
		regexp.MustCompile(`\baccept(?:s|ed|ing)?(?: that)? ` + h0 + `\b|` + h0 + ` (?:is|was) accepted`),
		regexp.MustCompile(h0 + ` (?:is|must be|was|holds|stands) ?(?:therefore |indeed )?(?:true|correct|right|confirmed|valid)\b`),
		equal,
	}
	proves = []*regexp.Regexp{
		regexp.MustCompile(`\bprov(?:e|es|ed|en|ing)\b|\bproofs?\b`),
		regexp.MustCompile(`\b(?:certain|certainly|definitely|undoubtedly|surely|without (?:a |any )?doubt|beyond (?:a |any )?doubt|100 ?%)`),
		regexp.MustCompile(h1 + ` (?:is|must be|was) (?:therefore )?(?:true|correct|right)\b|` +
			h0 + ` (?:is|must be|was) (?:therefore )?(?:false|wrong|untrue)\b`),
	}
	chance = []*regexp.Regexp{
		regexp.MustCompile(`\b` + odds + `(?: of [\d.,]+ ?%?)? (?:that|for|of) (?:` + h0 + `|` + h1 + `)[^.;]*`),
		regexp.MustCompile(`\b` + odds + `(?: of [\d.,]+ ?%?)? that [^.;]*`),
		regexp.MustCompile(`\b` + odds + ` of (?:no|there being|a true|the claim)\b[^.;]*`),
		regexp.MustCompile(`(?:` + h0 + `|` + h1 + `) is (?:\w+ )?(?:probably|likely|unlikely|probable|improbable)\b`),
		regexp.MustCompile(`\b(?:be|` + is + `) (?:just |only )?due to chance\b`),
		regexp.MustCompile(`[\d.,]+ ?% (?:probable|likely|sure|certain)\b`),
	}
	uncertain = regexp.MustCompile(
		`α|\balpha\b|\blevel\b|%|\bpercent\b|\bsignifican|\bp ?[=<>≈≤≥]|\bp-? ?value|\bevidence\b|\bconfiden|\b0[.,]\d`)
)

// What takes a statement back.
var (
	// denied are words before a statement that turn it round.
	denied = regexp.MustCompile(`\b` + oneOf("not no never cannot neither nor impossible hardly without") + `\b`)
	// hedged are words before a statement that leave it open.
	hedged = regexp.MustCompile(`\b(?:fail(?:s|ed)? to|` + oneOf("not no never cannot neither if whether nothing without insufficient unless "+
		"assuming would were had probability chance likelihood") + `)\b`)
	// conditional are words after a probability that make it one of data under H₀.
	conditional = regexp.MustCompile(`\b` + oneOf("if assuming given under provided were") + `\b`)
)

// emptyWords tell no name from another.
var emptyWords = []string{"the", "of", "a", "an", "in", "and", "or", "mean", "median", "proportion", "share", "shares", "per", "its",
	"value", "number", "variance", "slope", "correlation",
	"between", "groups", "group", "response", "h", "difference", "all", "others", "is", "to", "for", "not",
	"no"}
