// Package localpg runs a private PostgreSQL server on loopback, from the
// programs that Debian's package postgresql installs. The start command keeps
// people's data in one; the tests make a new one each time.
//
// The server listens on a free port of 127.0.0.1. It runs in a process group of its own, so that Ctrl-C
// reaches only us and we stop it in order. As root, which PostgreSQL refuses to
// run as, it runs as Debian's user postgres.
package localpg

import (
	"context"
	"crypto/rand"
	"errors"
	"fmt"
	"net"
	"os"
	"os/exec"
	"os/user"
	"path/filepath"
	"slices"
	"strconv"
	"strings"
	"sync"
	"syscall"
	"time"

	"github.com/jackc/pgx/v5"
)

// ErrNotInstalled is returned where PostgreSQL's programs are not found.
var ErrNotInstalled = errors.New("PostgreSQL is not installed: run apt-get install postgresql")

// database is the name of the one database in a server.
const database = "grund"

// A Server is a running PostgreSQL.
type Server struct {
	// URL is the address to connect to.
	URL string

	dir   string
	start func(context.Context) error // the server again, on the same port
	log   *os.File
	lock  *os.File // held for as long as this process uses the folder
	port  int      // 0 before the first start

	mu      sync.Mutex
	process *os.Process
	exited  chan struct{} // closed when the process has ended
	stopped bool
}

// Options of a server.
type Options struct {
	// Dir is where the server keeps its data. Where the server's user cannot
	// enter it, as user postgres cannot enter a folder of root's, the data go to a
	// folder under /var/lib/postgresql instead, whose name is kept in Dir/location.
	Dir string
	// Scratch trades safety for speed: for tests, whose data nobody keeps.
	Scratch bool
}

// Start starts a server on the data in opts.Dir, which it makes if need be. A
// server that an earlier run left behind on the same data is stopped first; where
// that run is still alive, the error is an *InUseError. The context bounds the
// starting, not the server's life; Stop ends that.
func Start(ctx context.Context, opts Options) (*Server, error) {
	programs, err := findPrograms()
	if err != nil {
		return nil, err
	}
	owner, err := serverUser()
	if err != nil {
		return nil, err
	}
	base, err := usableDir(opts.Dir, owner)
	if err != nil {
		return nil, err
	}
	s := &Server{dir: filepath.Join(base, "data")}
	if s.lock, err = lockFolder(opts.Dir); err != nil {
		return nil, err
	}
	defer func() {
		if s.process == nil {
			s.lock.Close()
		}
	}()
	password, err := s.initialize(ctx, programs, owner, base)
	if err != nil {
		return nil, err
	}
	if err := stopLeftover(ctx, s.dir); err != nil {
		return nil, err
	}
	s.start = func(ctx context.Context) error { return s.launch(ctx, programs, owner, base, password, opts.Scratch) }
	// After a kill -9 of PostgreSQL its shared memory may outlive it for a moment.
	for wait := 100 * time.Millisecond; ; wait *= 2 {
		err := s.start(ctx)
		if err == nil {
			return s, nil
		}
		if wait > 4*time.Second || ctx.Err() != nil {
			return nil, err
		}
		time.Sleep(wait)
	}
}

// Running returns the address of the server that another process runs on the data in a folder.
func Running(dir string) (url string, err error) {
	if dir, err = filepath.Abs(dir); err != nil {
		return "", err
	}
	if elsewhere, err := os.ReadFile(filepath.Join(dir, "location")); err == nil {
		dir = strings.TrimSpace(string(elsewhere))
	}
	password, err := os.ReadFile(filepath.Join(dir, "password"))
	if err != nil {
		return "", fmt.Errorf("reading the password of the local PostgreSQL: %w", err)
	}
	data := filepath.Join(dir, "data")
	lock, err := os.ReadFile(filepath.Join(data, "postmaster.pid"))
	if err != nil {
		return "", fmt.Errorf("looking for the local PostgreSQL: %w", err)
	}
	// Its lines are the process, the folder, the time and the port (PostgreSQL, utils/pidfile.h).
	lines := strings.Split(string(lock), "\n")
	s := &Server{dir: data}
	if len(lines) < 4 || strings.TrimSpace(lines[1]) != data {
		return "", fmt.Errorf("the local PostgreSQL on %s is on its way; try again in a moment", data)
	}
	if s.port, err = strconv.Atoi(strings.TrimSpace(lines[3])); err != nil {
		return "", fmt.Errorf("reading the port of the local PostgreSQL: %w", err)
	}
	return s.address(strings.TrimSpace(string(password)), database), nil
}

// Watch starts the server again whenever it ends without being stopped, until the context is done;
// where that does not help it tries again, after longer and longer pauses. say is told what happened.
func (s *Server) Watch(ctx context.Context, say func(string, error)) {
	const shortest, longest = 100 * time.Millisecond, 10 * time.Second
	for {
		_, exited := s.running()
		select {
		case <-ctx.Done():
			return
		case <-exited:
		}
		say("PostgreSQL has ended unexpectedly and is started again", nil)
		for pause := shortest; ctx.Err() == nil; pause = min(2*pause, longest) {
			starting, cancel := context.WithTimeout(ctx, time.Minute)
			err := s.start(starting)
			cancel()
			if err == nil {
				break
			}
			say("PostgreSQL did not start", err)
			select {
			case <-ctx.Done():
			case <-time.After(pause):
			}
		}
	}
}

// running returns the process, and what is closed when it has ended.
func (s *Server) running() (*os.Process, chan struct{}) {
	s.mu.Lock()
	defer s.mu.Unlock()
	return s.process, s.exited
}

// InUseError says that another running process uses the folder.
type InUseError struct {
	Dir string
	Pid string
}

func (e *InUseError) Error() string {
	return fmt.Sprintf("another Grund (process %s) is running on the data in %s: stop it first, or set GRUND_DATABASE_URL to share one "+
		"database", e.Pid, e.Dir)
}

// lockFolder takes the lock that says that this process uses the folder. The
// kernel gives it up when the process ends, however it ends.
func lockFolder(dir string) (*os.File, error) {
	file, err := os.OpenFile(filepath.Join(dir, "lock"), os.O_CREATE|os.O_RDWR, 0o644)
	if err != nil {
		return nil, err
	}
	if err := syscall.Flock(int(file.Fd()), syscall.LOCK_EX|syscall.LOCK_NB); err != nil {
		holder, _ := os.ReadFile(file.Name())
		file.Close()
		return nil, &InUseError{dir, strings.TrimSpace(string(holder))}
	}
	if err := file.Truncate(0); err != nil {
		return nil, err
	}
	_, err = fmt.Fprintln(file, os.Getpid())
	return file, err
}

// findPrograms returns the folder of the newest PostgreSQL's server programs.
func findPrograms() (string, error) {
	folders, _ := filepath.Glob("/usr/lib/postgresql/*/bin/postgres")
	slices.SortFunc(folders, func(a, b string) int { return version(b) - version(a) })
	if len(folders) > 0 {
		return filepath.Dir(folders[0]), nil
	}
	if path, err := exec.LookPath("postgres"); err == nil {
		if path, err = filepath.EvalSymlinks(path); err == nil {
			return filepath.Dir(path), nil
		}
	}
	return "", ErrNotInstalled
}

func version(path string) int {
	n, _ := strconv.Atoi(filepath.Base(filepath.Dir(filepath.Dir(path))))
	return n
}

// serverUser returns the credential that the server runs under: nil for our own,
// user postgres's when we are root.
func serverUser() (*syscall.Credential, error) {
	if os.Geteuid() != 0 {
		return nil, nil
	}
	u, err := user.Lookup("postgres")
	if err != nil {
		return nil, errors.New("as root PostgreSQL runs as user postgres, and there is no such user: run apt-get install postgresql")
	}
	uid, _ := strconv.Atoi(u.Uid)
	gid, _ := strconv.Atoi(u.Gid)
	return &syscall.Credential{Uid: uint32(uid), Gid: uint32(gid)}, nil
}

// usableDir makes the folder and returns it, or another one that the server's
// user can enter.
func usableDir(dir string, owner *syscall.Credential) (string, error) {
	dir, err := filepath.Abs(dir)
	if err != nil {
		return "", err
	}
	if err := os.MkdirAll(dir, 0o755); err != nil {
		return "", fmt.Errorf("making the folder for PostgreSQL's data: %w", err)
	}
	if owner == nil {
		return dir, nil
	}
	record := filepath.Join(dir, "location")
	if elsewhere, err := os.ReadFile(record); err == nil {
		return strings.TrimSpace(string(elsewhere)), nil
	}
	if canEnter(dir, owner) {
		return dir, os.Chown(dir, int(owner.Uid), int(owner.Gid))
	}
	elsewhere := filepath.Join("/var/lib/postgresql", "grund-"+strings.ToLower(rand.Text()[:12]))
	if err := os.Mkdir(elsewhere, 0o700); err != nil {
		return "", fmt.Errorf("making a folder that user postgres can enter: %w", err)
	}
	if err := os.Chown(elsewhere, int(owner.Uid), int(owner.Gid)); err != nil {
		return "", err
	}
	if err := os.WriteFile(record, []byte(elsewhere+"\n"), 0o644); err != nil {
		return "", err
	}
	return elsewhere, nil
}

// canEnter reports whether the user can reach the folder, by asking as that user.
func canEnter(dir string, owner *syscall.Credential) bool {
	probe := exec.Command("test", "-x", dir)
	probe.Dir = "/"
	probe.SysProcAttr = &syscall.SysProcAttr{Credential: owner}
	return probe.Run() == nil
}

// initialize makes the data directory if it is not there yet, and returns the
// password of the server's user. A directory that was being made when the
// machine stopped is made anew: it is renamed into place only when complete.
func (s *Server) initialize(ctx context.Context, programs string, owner *syscall.Credential, base string) (string, error) {
	secret := filepath.Join(base, "password")
	if _, err := os.Stat(filepath.Join(s.dir, "PG_VERSION")); err == nil {
		password, err := os.ReadFile(secret)
		if err != nil {
			return "", fmt.Errorf("reading the password of the local PostgreSQL: %w", err)
		}
		return strings.TrimSpace(string(password)), nil
	}
	password := rand.Text()
	if err := os.WriteFile(secret, []byte(password+"\n"), 0o600); err != nil {
		return "", err
	}
	if owner != nil {
		if err := os.Chown(secret, int(owner.Uid), int(owner.Gid)); err != nil {
			return "", err
		}
	}
	unfinished := s.dir + ".new"
	if err := os.RemoveAll(unfinished); err != nil {
		return "", err
	}
	initdb := exec.CommandContext(ctx, filepath.Join(programs, "initdb"), "--pgdata", unfinished, "--username", "grund", "--pwfile", secret,
		"--auth", "scram-sha-256", "--encoding", "UTF8", "--locale", "C.UTF-8")
	initdb.Dir = base
	initdb.SysProcAttr = &syscall.SysProcAttr{Credential: owner, Setpgid: true}
	if out, err := initdb.CombinedOutput(); err != nil {
		return "", fmt.Errorf("initdb: %w: %s", err, lastLine(string(out)))
	}
	return password, os.Rename(unfinished, s.dir)
}

// stopLeftover ends the server that the lock file of dir names, if it is alive
// and is a PostgreSQL on this very folder.
func stopLeftover(ctx context.Context, dir string) error {
	lock, err := os.ReadFile(filepath.Join(dir, "postmaster.pid"))
	if err != nil {
		return nil
	}
	lines := strings.Split(string(lock), "\n")
	pid, err := strconv.Atoi(strings.TrimSpace(lines[0]))
	if err != nil || pid <= 0 || len(lines) < 2 || strings.TrimSpace(lines[1]) != dir {
		return nil
	}
	if !runsOn(pid, dir) {
		return nil // a lock whose process is gone; PostgreSQL sees that itself
	}
	if err := syscall.Kill(pid, syscall.SIGINT); err != nil && !errors.Is(err, syscall.ESRCH) {
		return fmt.Errorf("stopping the PostgreSQL that an earlier run left behind (process %d): %w", pid, err)
	}
	for runsOn(pid, dir) {
		select {
		case <-ctx.Done():
			return fmt.Errorf("the PostgreSQL that an earlier run left behind (process %d) does not stop: %w", pid, ctx.Err())
		case <-time.After(20 * time.Millisecond):
		}
	}
	return nil
}

// runsOn reports whether the process is alive and was started on the folder. One
// that has ended and that nobody has waited for yet has no command line any more.
func runsOn(pid int, dir string) bool {
	command, err := os.ReadFile(fmt.Sprintf("/proc/%d/cmdline", pid))
	return err == nil && strings.Contains(string(command), dir)
}

// launch starts the server and waits until it takes connections.
func (s *Server) launch(ctx context.Context, programs string, owner *syscall.Credential, base, password string, scratch bool) error {
	var err error
	if s.port == 0 {
		if s.port, err = freePort(); err != nil {
			return err
		}
		s.URL = s.address(password, database)
	}
	logName := filepath.Join(base, "postgresql.log")
	if s.log == nil {
		if s.log, err = os.OpenFile(logName, os.O_CREATE|os.O_WRONLY|os.O_APPEND, 0o600); err != nil {
			return err
		}
	}
	args := []string{"-D", s.dir, "-p", strconv.Itoa(s.port), "-h", "127.0.0.1", "-k", "", "-c", "max_connections=50"}
	if scratch {
		args = append(args, "-c", "fsync=off", "-c", "synchronous_commit=off", "-c", "full_page_writes=off")
	}
	server := exec.Command(filepath.Join(programs, "postgres"), args...)
	server.Dir = base
	server.Stdout, server.Stderr = s.log, s.log
	server.SysProcAttr = &syscall.SysProcAttr{Credential: owner, Setpgid: true}
	s.mu.Lock()
	if s.stopped {
		s.mu.Unlock()
		return errors.New("PostgreSQL was stopped")
	}
	if err := server.Start(); err != nil {
		s.mu.Unlock()
		return fmt.Errorf("starting PostgreSQL: %w", err)
	}
	exited := make(chan struct{})
	s.process, s.exited = server.Process, exited
	s.mu.Unlock()
	go func() {
		_ = server.Wait()
		close(exited)
	}()
	admin := s.address(password, "postgres")
	for {
		err := createDatabase(ctx, admin)
		if err == nil {
			return nil
		}
		select {
		case <-exited:
			return fmt.Errorf("PostgreSQL did not start; see %s: %s", logName, lastLineOf(logName))
		case <-ctx.Done():
			end(server.Process, exited)
			return fmt.Errorf("PostgreSQL does not answer: %w", errors.Join(ctx.Err(), err))
		case <-time.After(30 * time.Millisecond):
		}
	}
}

// address is where a database of the server is found.
func (s *Server) address(password, database string) string {
	return fmt.Sprintf("postgres://grund:%s@127.0.0.1:%d/%s?sslmode=disable", password, s.port, database)
}

// createDatabase makes the database if it is not there.
func createDatabase(ctx context.Context, url string) error {
	conn, err := pgx.Connect(ctx, url)
	if err != nil {
		return err
	}
	defer conn.Close(ctx)
	var there bool
	if err := conn.QueryRow(ctx, "select exists (select from pg_database where datname = $1)", database).Scan(&there); err != nil {
		return err
	}
	if !there {
		_, err = conn.Exec(ctx, "create database "+database)
	}
	return err
}

// Pid returns the process id of the server.
func (s *Server) Pid() int {
	process, _ := s.running()
	return process.Pid
}

// Stop ends the server in order: it rolls back what is open and writes a
// checkpoint. It returns when the server is gone.
func (s *Server) Stop() {
	s.mu.Lock()
	s.stopped = true
	process, exited := s.process, s.exited
	s.mu.Unlock()
	end(process, exited)
	s.log.Close()
	s.lock.Close()
}

// end ends a process in order, and by force where that takes too long.
func end(process *os.Process, exited <-chan struct{}) {
	_ = process.Signal(syscall.SIGINT)
	select {
	case <-exited:
	case <-time.After(20 * time.Second):
		_ = process.Kill()
		<-exited
	}
}

func freePort() (int, error) {
	listener, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		return 0, fmt.Errorf("looking for a free port: %w", err)
	}
	defer listener.Close()
	return listener.Addr().(*net.TCPAddr).Port, nil
}

func lastLineOf(name string) string {
	text, _ := os.ReadFile(name)
	return lastLine(string(text))
}

func lastLine(text string) string {
	lines := strings.Split(strings.TrimSpace(text), "\n")
	return lines[len(lines)-1]
}
