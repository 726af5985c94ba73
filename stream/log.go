// Package stream keeps the log that several Chamfers share on NATS JetStream, which replicates it by Raft: [Join] is a
// client of it, [Start] one of the machines that keep it, embedded in this program. What JetStream acknowledges,
// more than half of those machines have written to their disks: with [Start], synced.
package stream

import (
	"compress/gzip"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"log/slog"
	"os"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/nats-io/nats.go"
	"github.com/nats-io/nats.go/jetstream"

	"chamfer/store"
)

// What things are called beside the log.
const (
	logName    = "CHAMFER"
	prefix     = "chamfer.log."
	meta       = "chamfer"        // cluster, node, trimmed
	thingsName = "chamfer-things" // what is too large for the log
	copiesName = "chamfer-copies" // of whole files
	copyMark   = "at-"
	copiesKept = 2
	user       = "chamfer"
)

// Bounds: how long an answer is waited for before it is asked for again, and a machine to be there at the start. How
// many changes are taken at once. The engine's own limit of pieces in one change.
const (
	answerTime = 3 * time.Second
	startTime  = time.Minute
	mostAtOnce = 256
	mostPieces = 1000
	dupesTime  = 2 * time.Minute
	pullTime   = 5 * time.Second // what comes is asked for again
	beatTime   = time.Second     // a machine that hands it over says at least so often that it is there
)

// Log is the shared log, as [store.Log] has it.
type Log struct {
	nc      *nats.Conn
	js      jetstream.JetStream
	log     jetstream.Stream
	kv      jetstream.KeyValue
	things  jetstream.ObjectStore
	copies  jetstream.ObjectStore
	cluster string
	node    int64
}

// Ask says where a log is, what lets one in, and on how many machines it is kept.
type Ask struct {
	Addresses []string // such as 10.0.0.2:4222
	Secret    string
	Copies    int
	Log       *slog.Logger
}

// Join comes to a log, and makes it where it is not there yet.
func Join(ctx context.Context, a Ask) (_ *Log, err error) {
	options := []nats.Option{nats.Name("chamfer"), nats.MaxReconnects(-1), nats.ReconnectWait(200 * time.Millisecond),
		nats.RetryOnFailedConnect(true), nats.Timeout(2 * time.Second), nats.PingInterval(2 * time.Second),
		nats.MaxPingsOutstanding(2), nats.ReconnectBufSize(-1),
		nats.DisconnectErrHandler(func(_ *nats.Conn, err error) {
			if err != nil {
				a.Log.Warn("the shared log", "lost", err)
			}
		}),
		nats.ReconnectHandler(func(c *nats.Conn) { a.Log.Info("the shared log", "found again", c.ConnectedAddr()) }),
		nats.ErrorHandler(func(_ *nats.Conn, _ *nats.Subscription, err error) { a.Log.Warn("the shared log", "err", err) }),
	}
	if a.Secret != "" {
		options = append(options, nats.UserInfo(user, a.Secret))
	}
	l := &Log{}
	if l.nc, err = nats.Connect(strings.Join(a.Addresses, ","), options...); err != nil {
		return nil, fmt.Errorf("the shared log at %s: %w", strings.Join(a.Addresses, ", "), err)
	}
	defer func() {
		if err != nil {
			l.nc.Close()
			err = fmt.Errorf("the shared log at %s: %w", strings.Join(a.Addresses, ", "), err)
		}
	}()
	if l.js, err = jetstream.New(l.nc); err != nil {
		return nil, err
	}
	ctx, cancel := context.WithTimeout(ctx, startTime)
	defer cancel()
	for {
		if err = l.open(ctx, max(1, a.Copies)); err == nil {
			return l, nil
		}
		select { // its machines may be starting, or finding who leads
		case <-ctx.Done():
			return nil, err
		case <-time.After(time.Second / 2):
		}
	}
}

func (l *Log) open(ctx context.Context, copies int) (err error) {
	ctx, cancel := context.WithTimeout(ctx, 2*answerTime)
	defer cancel()
	if l.log, err = l.js.CreateOrUpdateStream(ctx, jetstream.StreamConfig{Name: logName, Subjects: []string{prefix + ">"},
		Storage: jetstream.FileStorage, Replicas: copies, Duplicates: dupesTime, AllowAtomicPublish: true,
		Description: "what is changed in gardens' projects"}); err != nil {
		return err
	}
	if l.kv, err = l.js.CreateOrUpdateKeyValue(ctx, jetstream.KeyValueConfig{Bucket: meta, Replicas: copies,
		History: 1}); err != nil {
		return err
	}
	if l.things, err = l.js.CreateOrUpdateObjectStore(ctx, jetstream.ObjectStoreConfig{Bucket: thingsName,
		Replicas: copies}); err != nil {
		return err
	}
	if l.copies, err = l.js.CreateOrUpdateObjectStore(ctx, jetstream.ObjectStoreConfig{Bucket: copiesName,
		Replicas: copies}); err != nil {
		return err
	}
	if _, err = l.kv.Create(ctx, "cluster", []byte(nats.NewInbox()[len("_INBOX."):])); err != nil &&
		!errors.Is(err, jetstream.ErrKeyExists) {
		return err
	}
	e, err := l.kv.Get(ctx, "cluster")
	if err != nil {
		return err
	}
	l.cluster = string(e.Value())
	l.node, err = l.count(ctx)
	return err
}

// count gives this client a number that nobody had before.
func (l *Log) count(ctx context.Context) (int64, error) {
	for {
		e, err := l.kv.Get(ctx, "node")
		if errors.Is(err, jetstream.ErrKeyNotFound) {
			_, err = l.kv.Create(ctx, "node", []byte("1"))
			if err == nil {
				return 1, nil
			}
		} else if err == nil {
			n, bad := strconv.ParseInt(string(e.Value()), 10, 64)
			if bad != nil {
				return 0, bad
			}
			_, err = l.kv.Update(ctx, "node", strconv.AppendInt(nil, n+1, 10), e.Revision())
			if err == nil {
				return n + 1, nil
			}
		}
		if ctx.Err() != nil {
			return 0, errors.Join(err, ctx.Err())
		}
		time.Sleep(10 * time.Millisecond)
	}
}

// First is true once.
func (l *Log) First(ctx context.Context) (bool, error) {
	_, err := l.kv.Create(ctx, "first", strconv.AppendInt(nil, l.node, 10))
	if errors.Is(err, jetstream.ErrKeyExists) {
		return false, nil
	}
	return err == nil, err
}

// Close leaves the log.
func (l *Log) Close() { l.nc.Close() }

// Cluster and Node are as [store.Log] says.
func (l *Log) Cluster() string { return l.cluster }
func (l *Log) Node() int64     { return l.node }

// answer is what JetStream says to what is published.
type answer struct {
	Seq       uint64 `json:"seq"`
	Duplicate bool   `json:"duplicate"`
	Error     *struct {
		Code        jetstream.ErrorCode `json:"err_code"`
		Description string              `json:"description"`
	} `json:"error"`
}

// What JetStream says of a change that is in the log already, or about to be.
const (
	hasDuplicate   jetstream.ErrorCode = 10201
	isBeingWritten jetstream.ErrorCode = 10158
)

// Append adds a change.
func (l *Log) Append(ctx context.Context, name string, pieces []store.Piece) (uint64, error) {
	if len(pieces) > mostPieces {
		return 0, fmt.Errorf("%w: it changes %d households, projects and accounts, and %d is the most", store.ErrMuch,
			len(pieces), mostPieces)
	}
	ctx, cancel := context.WithTimeout(ctx, answerTime)
	defer cancel()
	batch := nats.NewInbox()[len("_INBOX."):]
	var a answer
	for i, p := range pieces {
		if int64(len(p.Body)) > l.nc.MaxPayload()-4096 {
			return 0, fmt.Errorf("%w: %d bytes of %s", store.ErrMuch, len(p.Body), p.Subject)
		}
		m := nats.NewMsg(prefix + p.Subject)
		m.Data = p.Body
		m.Header.Set(jetstream.MsgIDHeader, fmt.Sprintf("%s.%d", name, i))
		m.Header.Set(jetstream.ExpectedLastSubjSeqHeader, strconv.FormatUint(p.After, 10))
		if len(pieces) > 1 {
			m.Header.Set("Nats-Batch-Id", batch)
			m.Header.Set("Nats-Batch-Sequence", strconv.Itoa(i+1))
			if i == len(pieces)-1 {
				m.Header.Set("Nats-Batch-Commit", "1")
			}
		}
		back, err := l.nc.RequestMsgWithContext(ctx, m)
		if err != nil {
			return 0, err
		}
		if a = (answer{}); len(back.Data) > 0 {
			if err := json.Unmarshal(back.Data, &a); err != nil {
				return 0, err
			}
		}
		if e := a.Error; e != nil {
			switch e.Code {
			case jetstream.JSErrCodeStreamWrongLastSequence, jetstream.JSErrCodeStreamWrongLastSequenceConstant, hasDuplicate:
				return 0, fmt.Errorf("%w: %s", store.ErrMoved, e.Description)
			}
			return 0, fmt.Errorf("%s (%d)", e.Description, e.Code)
		}
	}
	if a.Seq == 0 {
		return 0, errors.New("it did not say where it put it")
	}
	return a.Seq, nil
}

// Last is where the log begins and ends.
func (l *Log) Last(ctx context.Context) (first, last uint64, err error) {
	info, err := l.log.Info(ctx)
	if err != nil {
		return 0, 0, err
	}
	return info.State.FirstSeq, info.State.LastSeq, nil
}

// Follow hands over what comes.
func (l *Log) Follow(ctx context.Context, after uint64, take func([]store.Logged) error) error {
	consumer, err := l.log.OrderedConsumer(ctx, jetstream.OrderedConsumerConfig{
		DeliverPolicy: jetstream.DeliverByStartSequencePolicy, OptStartSeq: after + 1})
	if err != nil {
		return err
	}
	come := make(chan jetstream.Msg, mostAtOnce)
	failed := make(chan error, 1)
	going, err := consumer.Consume(func(m jetstream.Msg) {
		select {
		case come <- m:
		case <-ctx.Done():
		}
	}, jetstream.PullExpiry(pullTime), jetstream.PullHeartbeat(beatTime),
		jetstream.ConsumeErrHandler(func(_ jetstream.ConsumeContext, err error) {
			if errors.Is(err, jetstream.ErrOrderedConsumerReset) || errors.Is(err, jetstream.ErrOrderedConsumerNotCreated) {
				select {
				case failed <- err:
				default:
				}
			}
		}))
	if err != nil {
		return err
	}
	defer going.Stop()
	var list []store.Logged
	whole := 0 // of list, so many are whole changes
	for {
		select {
		case m := <-come:
			at, err := m.Metadata()
			if err != nil {
				return err
			}
			h := m.Headers()
			list = append(list, store.Logged{Subject: strings.TrimPrefix(m.Subject(), prefix), Seq: at.Sequence.Stream,
				Body: m.Data(), Name: h.Get(jetstream.MsgIDHeader)})
			if h.Get("Nats-Batch-Id") == "" || h.Get("Nats-Batch-Commit") != "" {
				whole = len(list)
			}
			if whole == 0 || len(come) > 0 && whole < mostAtOnce {
				continue
			}
			if err := take(list[:whole]); err != nil {
				return err
			}
			list, whole = slices.Clone(list[whole:]), 0
		case err := <-failed:
			return err
		case <-going.Closed():
			return errors.New("it has ended")
		case <-ctx.Done():
			return ctx.Err()
		}
	}
}

// Put, Get and Drop keep what is too large for the log.
func (l *Log) Put(ctx context.Context, name string, body []byte) error {
	if there, err := l.things.GetInfo(ctx, name); err == nil && there.Size == uint64(len(body)) {
		return nil
	}
	_, err := l.things.PutBytes(ctx, name, body)
	return err
}

// Get reads it, nil where it is not there.
func (l *Log) Get(ctx context.Context, name string) ([]byte, error) {
	body, err := l.things.GetBytes(ctx, name)
	if errors.Is(err, jetstream.ErrObjectNotFound) {
		return nil, nil
	}
	return body, err
}

// Drop takes it away.
func (l *Log) Drop(ctx context.Context, name string) error {
	err := l.things.Delete(ctx, name)
	if errors.Is(err, jetstream.ErrObjectNotFound) {
		return nil
	}
	return err
}

// Forget takes the past of a subject, and of what is below it, out of the log.
func (l *Log) Forget(ctx context.Context, subject string, before uint64) error {
	err := l.log.Purge(ctx, jetstream.WithPurgeSubject(prefix+subject), jetstream.WithPurgeSequence(before))
	if err == nil {
		err = l.log.Purge(ctx, jetstream.WithPurgeSubject(prefix+subject+".>"), jetstream.WithPurgeSequence(before))
	}
	return err
}

// Trimmed is up to where the log may have been cut.
func (l *Log) Trimmed(ctx context.Context) (uint64, error) {
	e, err := l.kv.Get(ctx, "trimmed")
	if errors.Is(err, jetstream.ErrKeyNotFound) {
		return 0, nil
	}
	if err != nil {
		return 0, err
	}
	return strconv.ParseUint(string(e.Value()), 10, 64)
}

// those are the copies there are, the newest first.
func (l *Log) those(ctx context.Context) (list []uint64, err error) {
	all, err := l.copies.List(ctx)
	if errors.Is(err, jetstream.ErrNoObjectsFound) {
		return nil, nil
	}
	if err != nil {
		return nil, err
	}
	for _, o := range all {
		if n, err := strconv.ParseUint(strings.TrimPrefix(o.Name, copyMark), 10, 64); err == nil {
			list = append(list, n)
		}
	}
	slices.Sort(list)
	slices.Reverse(list)
	return list, nil
}

func copyName(at uint64) string { return fmt.Sprintf("%s%020d", copyMark, at) }

// Newest is the newest copy.
func (l *Log) Newest(ctx context.Context) (name string, at uint64, err error) {
	list, err := l.those(ctx)
	if err != nil || len(list) == 0 {
		return "", 0, err
	}
	return copyName(list[0]), list[0], nil
}

// Fetch writes a copy to a file.
func (l *Log) Fetch(ctx context.Context, name, to string) (err error) {
	o, err := l.copies.Get(ctx, name)
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, o.Close()) }()
	r, err := gzip.NewReader(o)
	if err != nil {
		return err
	}
	f, err := os.OpenFile(to, os.O_WRONLY|os.O_CREATE|os.O_EXCL, 0o600)
	if err != nil {
		return err
	}
	_, err = io.Copy(f, r)
	return errors.Join(err, f.Sync(), f.Close())
}

// Store puts a copy there, and cuts the log up to the one before it: what is older is in both.
func (l *Log) Store(ctx context.Context, from string, at uint64) error {
	f, err := os.Open(from)
	if err != nil {
		return err
	}
	defer f.Close()
	out, in := io.Pipe()
	go func() {
		w, _ := gzip.NewWriterLevel(in, gzip.BestSpeed)
		_, err := io.Copy(w, f)
		in.CloseWithError(errors.Join(err, w.Close()))
	}()
	if _, err := l.copies.Put(ctx, jetstream.ObjectMeta{Name: copyName(at)}, out); err != nil {
		return errors.Join(err, out.CloseWithError(err))
	}
	list, err := l.those(ctx)
	if err != nil || len(list) < copiesKept {
		return err
	}
	for _, old := range list[copiesKept:] {
		if err := l.copies.Delete(ctx, copyName(old)); err != nil {
			return err
		}
	}
	cut := list[copiesKept-1]
	if _, err := l.kv.Put(ctx, "trimmed", strconv.AppendUint(nil, cut, 10)); err != nil {
		return err
	}
	return l.log.Purge(ctx, jetstream.WithPurgeSequence(cut+1))
}

// Leader is the name of the machine that leads the log, "" where none does.
func (l *Log) Leader(ctx context.Context) (string, error) {
	info, err := l.log.Info(ctx)
	if err != nil || info.Cluster == nil {
		return "", err
	}
	return info.Cluster.Leader, nil
}
