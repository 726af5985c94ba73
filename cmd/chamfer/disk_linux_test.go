package main

import (
	"bytes"
	"context"
	"fmt"
	"math/rand/v2"
	"os"
	"path/filepath"
	"slices"
	"sync"
	"syscall"
	"testing"

	"github.com/hanwen/go-fuse/v2/fs"
	"github.com/hanwen/go-fuse/v2/fuse"
)

// disk is a folder in memory, mounted by the kernel's file system in user space, whose writes can fail and whose power
// can go: what was not synced is then lost in part, or all, or not at all.
type disk struct {
	fs.Inode
	mount string

	mu     sync.Mutex
	now    map[string]*diskFile // by name, as whoever asks sees it
	stable map[string]*diskFile // as the disk has it
	moves  []func(map[string]*diskFile)

	ops    int // that may fail, so far
	failAt int // which one does, 0 for none
	failed string
	errno  syscall.Errno
}

// diskFile is one file: its bytes as they are seen, and as the disk has them.
type diskFile struct {
	fs.Inode
	of     *disk
	data   []byte
	synced []byte
	mode   uint32
}

// plugIn mounts a new disk with some files in it. Machines that mount nothing have no such test.
func plugIn(t *testing.T, files map[string][]byte) *disk {
	t.Helper()
	d := &disk{mount: t.TempDir(), now: map[string]*diskFile{}, stable: map[string]*diskFile{}, errno: syscall.EIO}
	server, err := fs.Mount(d.mount, d, &fs.Options{MountOptions: fuse.MountOptions{DirectMount: true, MaxWrite: 1 << 16}})
	if err != nil {
		t.Skipf("nothing can be mounted here: %v", err)
	}
	t.Cleanup(func() {
		if err := server.Unmount(); err != nil {
			t.Errorf("unmount: %v", err)
		}
	})
	for name, raw := range files {
		d.mu.Lock()
		f := &diskFile{of: d, data: bytes.Clone(raw), synced: bytes.Clone(raw), mode: 0o600}
		d.now[name], d.stable[name] = f, f
		d.mu.Unlock()
		d.AddChild(name, d.NewPersistentInode(context.Background(), f, fs.StableAttr{Mode: syscall.S_IFREG}), true)
	}
	return d
}

// fails counts something that may fail, and says whether it does.
func (d *disk) fails(what, name string) syscall.Errno {
	if filepath.Ext(name) == ".lock" || filepath.Ext(name) == ".db-shm" { // no bytes of anybody's
		return 0
	}
	d.ops++
	if d.ops != d.failAt {
		return 0
	}
	d.failed = what + " " + name
	return d.errno
}

// move changes which names there are: at once for whoever asks, on the disk when the folder is synced.
func (d *disk) move(do func(map[string]*diskFile)) {
	do(d.now)
	d.moves = append(d.moves, do)
}

func (d *disk) nameOf(f *diskFile) string {
	for name, g := range d.now {
		if g == f {
			return name
		}
	}
	return "a file that is gone"
}

// cut is what a disk may have after its power went: of the changes of names the first few, of each file's bytes that
// were
// not synced some sectors.
func (d *disk) cut(r *rand.Rand) map[string][]byte {
	d.mu.Lock()
	defer d.mu.Unlock()
	names := map[string]*diskFile{}
	for name, f := range d.stable {
		names[name] = f
	}
	for _, do := range d.moves[:r.IntN(len(d.moves)+1)] {
		do(names)
	}
	files := map[string][]byte{}
	for name, f := range names {
		now, was := f.data, f.synced
		if r.IntN(2) == 0 { // its length is one of both
			now = slices.Clone(now[:min(len(now), len(was))])
			if len(was) > len(now) {
				now = append(now, was[len(now):]...)
			}
		}
		out := bytes.Clone(now)
		keep := r.IntN(4) // 0: none of it, 3: all of it, else some
		const sector = 512
		for at := 0; at < len(out); at += sector {
			if keep == 3 || keep > 0 && r.IntN(2) == 0 {
				continue
			}
			end := min(at+sector, len(out))
			clear(out[at:end])
			if at < len(was) {
				copy(out[at:end], was[at:min(end, len(was))])
			}
		}
		files[name] = out
	}
	return files
}

// whole is what is on the disk as whoever asks sees it.
func (d *disk) whole() map[string][]byte {
	d.mu.Lock()
	defer d.mu.Unlock()
	files := map[string][]byte{}
	for name, f := range d.now {
		files[name] = bytes.Clone(f.data)
	}
	return files
}

// laid lays files into a new folder of a real disk.
func laid(t *testing.T, files map[string][]byte) string {
	t.Helper()
	dir := t.TempDir()
	for name, raw := range files {
		if filepath.Ext(name) == ".lock" || filepath.Ext(name) == ".db-shm" {
			continue
		}
		if err := os.WriteFile(filepath.Join(dir, name), raw, 0o600); err != nil {
			t.Fatal(err)
		}
	}
	return dir
}

func (d *disk) Create(ctx context.Context, name string, _, mode uint32, out *fuse.EntryOut) (*fs.Inode, fs.FileHandle,
	uint32, syscall.Errno) {
	d.mu.Lock()
	defer d.mu.Unlock()
	if errno := d.fails("create", name); errno != 0 {
		return nil, nil, 0, errno
	}
	f := &diskFile{of: d, mode: mode & 0o777}
	d.move(func(m map[string]*diskFile) { m[name] = f })
	out.Mode = syscall.S_IFREG | f.mode
	return d.NewPersistentInode(ctx, f, fs.StableAttr{Mode: syscall.S_IFREG}), nil, 0, 0
}

func (d *disk) Unlink(_ context.Context, name string) syscall.Errno {
	d.mu.Lock()
	defer d.mu.Unlock()
	if errno := d.fails("unlink", name); errno != 0 {
		return errno
	}
	d.move(func(m map[string]*diskFile) { delete(m, name) })
	return 0
}

func (d *disk) Rename(_ context.Context, name string, _ fs.InodeEmbedder, to string, _ uint32) syscall.Errno {
	d.mu.Lock()
	defer d.mu.Unlock()
	if errno := d.fails("rename", name); errno != 0 {
		return errno
	}
	f := d.now[name]
	d.move(func(m map[string]*diskFile) { m[to] = f; delete(m, name) })
	return 0
}

func (d *disk) Link(_ context.Context, target fs.InodeEmbedder, name string, _ *fuse.EntryOut) (*fs.Inode,
	syscall.Errno) {
	d.mu.Lock()
	defer d.mu.Unlock()
	if errno := d.fails("link", name); errno != 0 {
		return nil, errno
	}
	f := target.(*diskFile)
	d.move(func(m map[string]*diskFile) { m[name] = f })
	return f.EmbeddedInode(), 0
}

func (d *disk) Fsync(context.Context, fs.FileHandle, uint32) syscall.Errno {
	d.mu.Lock()
	defer d.mu.Unlock()
	if errno := d.fails("sync", "the folder"); errno != 0 {
		return errno
	}
	d.stable = map[string]*diskFile{}
	for name, f := range d.now {
		d.stable[name] = f
	}
	d.moves = nil
	return 0
}

func (f *diskFile) Open(context.Context, uint32) (fs.FileHandle, uint32, syscall.Errno) {
	f.of.mu.Lock()
	defer f.of.mu.Unlock()
	return nil, 0, f.of.fails("open", f.of.nameOf(f))
}

func (f *diskFile) Read(_ context.Context, _ fs.FileHandle, dest []byte, off int64) (fuse.ReadResult, syscall.Errno) {
	f.of.mu.Lock()
	defer f.of.mu.Unlock()
	at := min(off, int64(len(f.data)))
	end := min(at+int64(len(dest)), int64(len(f.data)))
	return fuse.ReadResultData(bytes.Clone(f.data[at:end])), 0
}

func (f *diskFile) Write(_ context.Context, _ fs.FileHandle, raw []byte, off int64) (uint32, syscall.Errno) {
	f.of.mu.Lock()
	defer f.of.mu.Unlock()
	if errno := f.of.fails("write", f.of.nameOf(f)); errno != 0 {
		return 0, errno
	}
	if end := int(off) + len(raw); end > len(f.data) {
		f.data = append(f.data, make([]byte, end-len(f.data))...)
	}
	copy(f.data[off:], raw)
	return uint32(len(raw)), 0
}

func (f *diskFile) Fsync(context.Context, fs.FileHandle, uint32) syscall.Errno {
	f.of.mu.Lock()
	defer f.of.mu.Unlock()
	if errno := f.of.fails("sync", f.of.nameOf(f)); errno != 0 {
		return errno
	}
	f.synced = bytes.Clone(f.data)
	return 0
}

func (f *diskFile) attr(out *fuse.Attr) {
	out.Mode, out.Size, out.Nlink = syscall.S_IFREG|f.mode, uint64(len(f.data)), 1
	out.Owner = fuse.Owner{Uid: uint32(os.Getuid()), Gid: uint32(os.Getgid())}
}

func (f *diskFile) Getattr(_ context.Context, _ fs.FileHandle, out *fuse.AttrOut) syscall.Errno {
	f.of.mu.Lock()
	defer f.of.mu.Unlock()
	f.attr(&out.Attr)
	return 0
}

func (f *diskFile) Setattr(_ context.Context, _ fs.FileHandle, in *fuse.SetAttrIn, out *fuse.AttrOut) syscall.Errno {
	f.of.mu.Lock()
	defer f.of.mu.Unlock()
	if mode, ok := in.GetMode(); ok {
		f.mode = mode & 0o777
	}
	if size, ok := in.GetSize(); ok {
		if errno := f.of.fails("truncate", f.of.nameOf(f)); errno != 0 {
			return errno
		}
		if int(size) <= len(f.data) {
			f.data = slices.Clone(f.data[:size])
		} else {
			f.data = append(f.data, make([]byte, int(size)-len(f.data))...)
		}
	}
	f.attr(&out.Attr)
	return 0
}

func (d *disk) String() string {
	d.mu.Lock()
	defer d.mu.Unlock()
	return fmt.Sprintf("%d operations, failed: %s", d.ops, d.failed)
}
