package store

import (
	"bytes"
	"compress/flate"
	"context"
	"database/sql"
	"encoding/binary"
	"errors"
	"fmt"
	"io"
	"sync"

	"github.com/jmoiron/sqlx"
)

// Designs of old revisions are packed: many of a project one after the other, so that of each only what differs from
// those before it is kept. One that is a project's head never is, and one that becomes it is no more.
const (
	packedAtOnce = 64
	neverPacked  = 200      // the newest revisions of a project
	largestPack  = 64 << 20 // unpacked
)

// packedDesigns is the pack that was read last.
type packedDesigns struct {
	mu   sync.Mutex
	id   int64
	list map[int64]string
}

// pack writes designs one after the other.
func pack(ids []int64, designs map[int64]string) ([]byte, error) {
	var out bytes.Buffer
	w, err := flate.NewWriter(&out, flate.BestCompression)
	if err != nil {
		return nil, err
	}
	for _, id := range ids {
		head := binary.AppendUvarint(binary.AppendUvarint(nil, uint64(id)), uint64(len(designs[id])))
		if _, err := w.Write(append(head, designs[id]...)); err != nil {
			return nil, err
		}
	}
	err = w.Close()
	return out.Bytes(), err
}

// unpackDesigns reads what pack wrote.
func unpackDesigns(body []byte) (map[int64]string, error) {
	raw, err := io.ReadAll(io.LimitReader(flate.NewReader(bytes.NewReader(body)), largestPack))
	if err != nil {
		return nil, fmt.Errorf("a pack of old designs: %w", err)
	}
	list := map[int64]string{}
	for len(raw) > 0 {
		id, n := binary.Uvarint(raw)
		size, m := binary.Uvarint(raw[max(n, 0):])
		if n <= 0 || m <= 0 || size > uint64(len(raw)-n-m) {
			return nil, errors.New("a pack of old designs is cut off")
		}
		raw = raw[n+m:]
		list[int64(id)], raw = string(raw[:size]), raw[size:]
	}
	return list, nil
}

// designIn is the design of a revision that is in a pack, "" where it is in none, or that cannot be read.
func designIn(db sqlx.Queryer, revision int64, of sql.NullInt64) (string, error) {
	if !of.Valid {
		return "", nil
	}
	var body []byte
	err := sqlx.Get(db, &body, "SELECT body FROM packs WHERE id = ?", of.Int64)
	if errors.Is(err, sql.ErrNoRows) {
		return "", nil
	}
	if err != nil {
		return "", err
	}
	list, err := unpackDesigns(body)
	if err != nil {
		return "", nil // the revision is damaged, and says so
	}
	return list[revision], nil
}

// unpackRevision gives a revision its design back.
func unpackRevision(db sqlx.Ext, revision int64) error {
	var of sql.NullInt64
	err := sqlx.Get(db, &of, "SELECT pack_id FROM revisions WHERE id = ? AND design = ''", revision)
	if errors.Is(err, sql.ErrNoRows) {
		return nil
	}
	design := ""
	if err == nil {
		design, err = designIn(db, revision, of)
	}
	if err == nil && design != "" {
		_, err = db.Exec("UPDATE revisions SET design = ?, pack_id = NULL WHERE id = ?", design, revision)
	}
	if err != nil {
		return fmt.Errorf("revision %d: %w", revision, err)
	}
	return nil
}

// unpackRow gives a row of the revisions its design back, and takes the pack out of it: what it is without packs.
func unpackRow(db sqlx.Queryer, kept *packedDesigns, r row) error {
	of, packed := r["pack_id"].(int64)
	delete(r, "pack_id")
	if r["design"] != "" || !packed {
		return nil
	}
	if kept.list == nil || kept.id != of {
		var body []byte
		if err := sqlx.Get(db, &body, "SELECT body FROM packs WHERE id = ?", of); err != nil {
			if errors.Is(err, sql.ErrNoRows) {
				return nil
			}
			return err
		}
		list, err := unpackDesigns(body)
		if err != nil {
			return nil
		}
		kept.id, kept.list = of, list
	}
	r["design"] = kept.list[r["id"].(int64)]
	return nil
}

// designOf is the design of a revision as it is kept, in a pack or not.
func (s *Store) designOf(ctx context.Context, project, id int64) (string, error) {
	var r struct {
		Design string        `db:"design"`
		Pack   sql.NullInt64 `db:"pack_id"`
	}
	err := s.db.GetContext(ctx, &r, "SELECT design, pack_id FROM revisions WHERE id = ? AND project_id = ?", id, project)
	if err != nil || r.Design != "" || !r.Pack.Valid {
		return r.Design, err
	}
	s.packed.mu.Lock()
	defer s.packed.mu.Unlock()
	line := row{"id": id, "design": "", "pack_id": r.Pack.Int64}
	err = unpackRow(s.db, &s.packed, line)
	return line["design"].(string), err
}

// loose are revisions that can be packed. Large ones are kept as they are: beside a shared log they lie by themselves.
const loose = "pack_id IS NULL AND length(CAST(design AS BLOB)) BETWEEN 1 AND 65536"

// PackOld packs the designs of old revisions, a pack at a time, and reports whether there may be more to pack. Who
// writes waits for no more than that.
func (s *Store) PackOld() (more bool, err error) {
	err = s.local(func(tx *sqlx.Tx) error {
		more = false
		var project []int64
		if err := tx.Select(&project, "SELECT project_id FROM revisions WHERE "+loose+" GROUP BY project_id"+
			" HAVING count(*) >= ? LIMIT 1", neverPacked+2*packedAtOnce); err != nil || len(project) == 0 {
			return err
		}
		more = true
		var list []struct {
			ID     int64  `db:"id"`
			Design string `db:"design"`
		}
		if err := tx.Select(&list, `SELECT id, design FROM revisions WHERE project_id = ? AND `+loose+`
			AND id < (SELECT id FROM revisions WHERE project_id = ? AND `+loose+` ORDER BY id DESC LIMIT 1 OFFSET ?)
			AND id <> (SELECT coalesce(head, 0) FROM projects WHERE id = ?) ORDER BY id LIMIT ?`, project[0], project[0],
			neverPacked-1, project[0], packedAtOnce); err != nil {
			return err
		}
		designs, size := map[int64]string{}, 0
		var ids []int64
		for _, r := range list {
			ids, designs[r.ID], size = append(ids, r.ID), r.Design, size+len(r.Design)
		}
		body, err := pack(ids, designs)
		if err != nil {
			return err
		}
		res, err := tx.Exec("INSERT INTO packs (project_id, body, size) VALUES (?, ?, ?)", project[0], body, size)
		if err != nil {
			return err
		}
		id, err := res.LastInsertId()
		if err != nil {
			return err
		}
		query, args, err := sqlx.In("UPDATE revisions SET design = '', pack_id = ? WHERE id IN (?)", id, ids)
		if err == nil {
			_, err = tx.Exec(query, args...)
		}
		return err
	})
	if err != nil {
		return false, fmt.Errorf("pack old designs: %w", err)
	}
	return more, nil
}

// When the file is written anew without the room that packing has left between its rows: where a quarter of it is that,
// and it is not so large that whoever writes meanwhile would have to wait for more than a moment.
const (
	compactedKey   = "packed when compacted"
	largestCompact = 256 << 20
)

// Compact writes the file anew where packing has left much room in it, and reports whether it did.
func (s *Store) Compact() (done bool, err error) {
	var at struct {
		File   int64 `db:"file"`
		Packed int64 `db:"packed"`
		Before int64 `db:"before"`
	}
	if err := s.db.Get(&at, `SELECT (SELECT page_count FROM pragma_page_count) * (SELECT page_size FROM pragma_page_size)
		AS file, (SELECT coalesce(sum(size - length(body)), 0) FROM packs) AS packed,
		coalesce((SELECT CAST(value AS INTEGER) FROM about WHERE key = ?), 0) AS "before"`, compactedKey); err != nil {
		return false, fmt.Errorf("compact: %w", err)
	}
	if at.Packed-at.Before < at.File/4 || at.File > largestCompact {
		return false, nil
	}
	s.writing <- struct{}{}
	defer func() { <-s.writing }()
	if k := s.view; k != nil {
		k.turn.Lock()
		defer k.turn.Unlock()
	}
	_, err = s.db.Exec("VACUUM")
	if err == nil {
		_, err = s.db.Exec("INSERT INTO about (key, value) VALUES (?, ?) ON CONFLICT DO UPDATE SET value = excluded.value",
			compactedKey, at.Packed)
	}
	if err != nil {
		return false, fmt.Errorf("compact: %w", err)
	}
	s.checkpoint()
	return true, nil
}

// local is a change of what this file has for itself: of a shared log it is none.
func (s *Store) local(do func(*sqlx.Tx) error) error {
	k := s.view
	if k == nil {
		return s.inTx(do)
	}
	k.turn.Lock()
	defer k.turn.Unlock()
	return inOne(k.ctx, k.take, do)
}

// Packed is what packing old designs comes to.
type Packed struct {
	Old   int   `db:"old"` // revisions whose designs are in a pack
	Packs int   `db:"packs"`
	Size  int64 `db:"size"`  // of those designs, bytes
	Takes int64 `db:"takes"` // of the packs
}

// Packed says what it comes to in the projects of a household, in all where it is 0.
func (s *Store) Packed(ctx context.Context, household int64) (Packed, error) {
	return packedIn(ctx, s.db, household)
}

func packedIn(ctx context.Context, db *sqlx.DB, household int64) (p Packed, err error) {
	err = db.GetContext(ctx, &p, `SELECT count(*) AS packs, coalesce(sum(size), 0) AS size,
		coalesce(sum(length(body)), 0) AS takes, coalesce(sum((SELECT count(*) FROM revisions r WHERE r.pack_id = k.id)), 0)
		AS old FROM packs k JOIN projects p ON p.id = k.project_id WHERE ? IN (0, p.household_id)`, household)
	if err != nil {
		return p, fmt.Errorf("packed: %w", err)
	}
	return p, nil
}

// checkPacks counts the revisions of a file whose designs are in packs that cannot be read.
func checkPacks(db *sqlx.DB) (bad int, err error) {
	err = eachRow(db, func(r row) error {
		list, err := unpackDesigns(r["body"].([]byte))
		if err != nil {
			list = nil
		}
		var ids []int64
		if err := db.Select(&ids, "SELECT id FROM revisions WHERE pack_id = ?", r["id"]); err != nil {
			return err
		}
		for _, id := range ids {
			if list[id] == "" {
				bad++
			}
		}
		return nil
	}, "SELECT id, body FROM packs ORDER BY id")
	return bad, err
}
