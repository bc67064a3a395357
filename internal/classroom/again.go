package classroom

import (
	"context"
	"errors"
	"net/http"

	"github.com/google/uuid"
	"github.com/labstack/echo/v5"

	"grund/internal/access"
	"grund/internal/exchange"
	"grund/internal/people"
	"grund/internal/problemset"
	"grund/internal/store"
)

// JudgedAgain says how many attempts were judged again, and how many answers have another verdict since.
type JudgedAgain struct {
	Attempts int `json:"attempts"`
	Changed  int `json:"changed"`
}

// judgeAgain judges the attempts that were begun before the set was changed by what is handed out now, at the instructor's word.
func (r *Classroom) judgeAgain(c *echo.Context, id uuid.UUID) error {
	ctx, who := c.Request().Context(), people.Who(c)
	set, err := r.store.TaughtSet(ctx, who, id)
	if err != nil {
		return err
	}
	attempts, err := r.store.ClassAttempts(ctx, who, id, zero)
	if err != nil {
		return err
	}
	var out JudgedAgain
	for _, p := range set.Problems {
		for _, a := range attempts {
			if a.SetProblem != p.ID || a.Version == p.Version {
				continue
			}
			changed, err := r.judgeAttemptAgain(ctx, who, &p, &a)
			if err != nil {
				return err
			}
			out.Attempts++
			out.Changed += changed
		}
	}
	return exchange.Write(c, http.StatusOK, out)
}

// mostTimes is how often an attempt is looked at anew whose student goes on meanwhile.
const mostTimes = 3

func (r *Classroom) judgeAttemptAgain(ctx context.Context, who access.Person, p *store.SetProblem, a *store.ClassAttempt) (changed int,
	err error) {
	for range mostTimes {
		changed, err = r.judgeOnce(ctx, who, p, a)
		if _, stale := errors.AsType[*store.StaleError](err); !stale {
			return changed, err
		}
	}
	return changed, err
}

func (r *Classroom) judgeOnce(ctx context.Context, who access.Person, p *store.SetProblem, a *store.ClassAttempt) (changed int, err error) {
	begun, err := r.store.Desk(ctx, who, p.ID, a.Person)
	if err != nil {
		return 0, err
	}
	if begun.Attempt == nil || begun.Version == p.Version { // other numbers were drawn, or another instructor was faster
		return 0, nil
	}
	now := *begun
	if now.File, now.Asked, now.Version, err = r.store.HandedOut(ctx, who, p.ID); err != nil {
		return 0, err
	}
	judged := begun.Attempt.Events
	var standing problemset.Standing
	err = r.at(ctx, p.ID, &now, func(ctx context.Context, l *lay) error {
		events, err := l.attempt.JudgeAgain(ctx, eventsOf(begun.Attempt))
		if err != nil {
			return err
		}
		for i, e := range events {
			if e.Verdict != judged[i].Verdict {
				changed++
			}
			judged[i].Verdict, judged[i].Slip = e.Verdict, e.Slip
		}
		sheet, err := l.attempt.After(ctx, events)
		if err == nil {
			standing = problemset.StandingOf(sheet, events)
		}
		return err
	})
	if err != nil {
		return 0, err
	}
	return changed, r.store.JudgeAgain(ctx, who, a.ID, now.Version, judged, standing)
}
