package store

import (
	"context"
	"errors"
	"fmt"
	"time"

	"github.com/go-json-experiment/json"
	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgxpool"

	"grund/internal/access"
	"grund/internal/labreport"
)

// A Report as it is kept.
type Report struct {
	ID        uuid.UUID
	Of        uuid.UUID // the problem that it is the report of; uuid.Nil of one of several, and where that problem is gone
	Version   int64
	UpdatedAt time.Time
	labreport.Report
}

// A ReportListing is a report as it stands in a list.
type ReportListing struct {
	ID        uuid.UUID
	Version   int64
	Title     string
	Parts     int
	Of        uuid.UUID // as of a Report
	UpdatedAt time.Time
}

// reportTable can be deleted from and restored to.
const reportTable = "report"

// Reports lists a page of the person's reports, newest change first, from the given one on, counted from 0; more reports
// whether others follow.
func (s *Store) Reports(ctx context.Context, who access.Person, from int) (list []ReportListing, more bool, err error) {
	err = s.with(ctx, func(conn *pgxpool.Conn) error {
		rows, _ := conn.Query(ctx, `select id, version, title, jsonb_array_length(parts),
				coalesce(problem, '00000000-0000-0000-0000-000000000000'), updated_at from report
			where owner = $1 and deleted_at is null order by updated_at desc, id offset $2 limit $3`, who.ID, from, PageRows+1)
		list, err = pgx.CollectRows(rows, pgx.RowToStructByPos[ReportListing])
		return err
	})
	if err != nil {
		return nil, false, fmt.Errorf("listing reports: %w", err)
	}
	return list[:min(len(list), PageRows)], len(list) > PageRows, nil
}

// CreateReport keeps a new report.
func (s *Store) CreateReport(ctx context.Context, who access.Person, report labreport.Report) (*Report, error) {
	r := &Report{ID: uuid.New(), Version: 1, Report: report}
	err := s.inTx(ctx, func(tx pgx.Tx) error { return insertReport(ctx, tx, who, r) })
	return r, changeError("report", err)
}

func insertReport(ctx context.Context, tx pgx.Tx, who access.Person, r *Report) error {
	parts, err := encodeParts(&r.Report)
	if err != nil {
		return err
	}
	var of any
	if r.Of != uuid.Nil {
		of = r.Of
	}
	return tx.QueryRow(ctx, "insert into report (id, owner, problem, title, parts) values ($1, $2, $3, $4, $5) returning updated_at",
		r.ID, who.ID, of, r.Title, parts).Scan(&r.UpdatedAt)
}

// encodeParts returns the parts of a report that may be kept as they are kept.
func encodeParts(r *labreport.Report) ([]byte, error) {
	if err := r.Check(); err != nil {
		return nil, err
	}
	if r.Parts == nil {
		r.Parts = []labreport.Part{}
	}
	return json.Marshal(r.Parts)
}

// Report returns a report.
func (s *Store) Report(ctx context.Context, who access.Person, id uuid.UUID) (r *Report, err error) {
	err = s.with(ctx, func(conn *pgxpool.Conn) error {
		r, err = readReport(ctx, conn, "id = $2", who, id)
		return err
	})
	return r, readError("report", err)
}

// ReportFor returns a report of the person's into which something of a problem of theirs may be kept: the one of that id, or
// where it is uuid.Nil the problem's own, nil where there is none yet.
func (s *Store) ReportFor(ctx context.Context, who access.Person, problem, id uuid.UUID) (r *Report, err error) {
	err = s.with(ctx, func(conn *pgxpool.Conn) error {
		var there bool
		err := conn.QueryRow(ctx, "select true from problem where id = $1 and owner = $2 and deleted_at is null", problem, who.ID).Scan(&there)
		if err != nil {
			return err
		}
		if id != uuid.Nil {
			r, err = readReport(ctx, conn, "id = $2", who, id)
			return err
		}
		r, err = readReport(ctx, conn, "problem = $2", who, problem)
		if errors.Is(err, pgx.ErrNoRows) {
			r, err = nil, nil
		}
		return err
	})
	return r, readError("report", err)
}

// readReport reads the one report of the person for which the condition about $2 holds.
func readReport(ctx context.Context, q querier, condition string, who access.Person, about uuid.UUID) (*Report, error) {
	r := &Report{}
	var of *uuid.UUID
	var parts []byte
	err := q.QueryRow(ctx, "select id, problem, version, updated_at, title, parts from report where owner = $1 and deleted_at is null and "+
		condition, who.ID, about).Scan(&r.ID, &of, &r.Version, &r.UpdatedAt, &r.Title, &parts)
	if err != nil {
		return nil, err
	}
	if of != nil {
		r.Of = *of
	}
	if err := json.Unmarshal(parts, &r.Parts); err != nil {
		return nil, fmt.Errorf("decoding the parts of a report: %w", err)
	}
	return r, nil
}

// UpdateReport replaces what is in a report that is still at the given version, and returns it. Otherwise the error is a
// *StaleError.
func (s *Store) UpdateReport(
	ctx context.Context, who access.Person, id uuid.UUID, version int64, report labreport.Report,
) (r *Report, err error) {
	err = s.inTx(ctx, func(tx pgx.Tx) error {
		if r, err = readReport(ctx, tx, "id = $2 for update", who, id); err != nil {
			return err
		}
		if r.Version != version {
			return &StaleError{What: "report", Current: r.Version, UpdatedAt: r.UpdatedAt}
		}
		r.Report = report
		return writeReport(ctx, tx, r)
	})
	return r, changeError("report", err)
}

// writeReport writes what is in a report, and its next version into it.
func writeReport(ctx context.Context, tx pgx.Tx, r *Report) error {
	parts, err := encodeParts(&r.Report)
	if err != nil {
		return err
	}
	return tx.QueryRow(ctx, `update report set title = $2, parts = $3, version = version + 1, updated_at = now() where id = $1
		returning version, updated_at`, r.ID, r.Title, parts).Scan(&r.Version, &r.UpdatedAt)
}

// ChangeReportOf changes the report of a problem, or another one of the person's where id is not uuid.Nil, whatever
// version it is at: nobody comes between. The report of a problem is begun where there is none, under the title.
func (s *Store) ChangeReportOf(
	ctx context.Context, who access.Person, problem, id uuid.UUID, title string, change func(r *labreport.Report),
) (r *Report, err error) {
	err = s.inTx(ctx, func(tx pgx.Tx) error {
		if err := lockProblem(ctx, tx, who, problem); err != nil { // the report may be begun
			return err
		}
		condition, about := "id = $2 for update", id
		if id == uuid.Nil {
			condition, about = "problem = $2 for update", problem
		}
		r, err = readReport(ctx, tx, condition, who, about)
		if errors.Is(err, pgx.ErrNoRows) && id == uuid.Nil {
			r, err = &Report{ID: uuid.New(), Of: problem, Version: 1, Report: labreport.Report{Title: title}}, nil
			change(&r.Report)
			return insertReport(ctx, tx, who, r)
		}
		if err != nil {
			return err
		}
		change(&r.Report)
		return writeReport(ctx, tx, r)
	})
	return r, changeError("report", err)
}

// DeleteReport takes a report out of sight, at that version or, where it is 0, at any; RestoreReport brings it back, until
// it is purged. The error may be a *StaleError.
func (s *Store) DeleteReport(ctx context.Context, who access.Person, id uuid.UUID, version int64) error {
	return s.setDeleted(ctx, who, reportTable, id, version, true)
}

// RestoreReport undoes DeleteReport. Where the problem has begun another report meanwhile, it is no problem's report.
func (s *Store) RestoreReport(ctx context.Context, who access.Person, id uuid.UUID, version int64) error {
	err := s.inTx(ctx, func(tx pgx.Tx) error {
		_, err := tx.Exec(ctx, `update report r set problem = null where id = $1 and owner = $2 and exists
			(select from report other where other.owner = $2 and other.problem = r.problem and other.deleted_at is null)`, id, who.ID)
		if err != nil {
			return err
		}
		return setDeleted(ctx, tx, who, reportTable, id, version, false)
	})
	return changeError(reportTable, err)
}
