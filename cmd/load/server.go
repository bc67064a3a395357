package main

import (
	"bufio"
	"fmt"
	"net"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"strconv"
	"strings"
	"syscall"
	"time"
)

// A server is a running grund with a PostgreSQL of its own.
type server struct {
	binary, dir string
	port        int
	url         string
	command     *exec.Cmd
}

// start starts the server, on the port that it had before if it had one, and waits until it answers.
func (s *server) start() error {
	if s.port == 0 {
		listener, err := net.Listen("tcp", "127.0.0.1:0")
		if err != nil {
			return err
		}
		s.port = listener.Addr().(*net.TCPAddr).Port
		s.url = fmt.Sprintf("http://127.0.0.1:%d", s.port)
		listener.Close()
	}
	s.command = exec.Command(s.binary, "serve", "--port", strconv.Itoa(s.port), "--dir", s.dir)
	log, err := os.OpenFile(filepath.Join(s.dir, "server.log"), os.O_CREATE|os.O_APPEND|os.O_WRONLY, 0o644)
	if err != nil {
		return err
	}
	defer log.Close()
	s.command.Stderr = log
	out, err := s.command.StdoutPipe()
	if err != nil {
		return err
	}
	if err := s.command.Start(); err != nil {
		return err
	}
	line, err := bufio.NewReader(out).ReadString('\n')
	if err != nil || !strings.Contains(line, s.url) {
		return fmt.Errorf("the server did not start: %q", line)
	}
	return s.ready()
}

// ready waits until the server and its database answer.
func (s *server) ready() error {
	for range 1500 {
		if response, err := http.Get(s.url + "/healthz"); err == nil {
			response.Body.Close()
			if response.StatusCode == http.StatusOK {
				return nil
			}
		}
		time.Sleep(20 * time.Millisecond)
	}
	return fmt.Errorf("the server does not answer")
}

func (s *server) stop() {
	_ = s.command.Process.Signal(syscall.SIGINT)
	_ = s.command.Wait()
	if elsewhere, err := os.ReadFile(filepath.Join(s.dir, "location")); err == nil {
		os.RemoveAll(strings.TrimSpace(string(elsewhere)))
	}
}

// kill ends the server without a warning.
func (s *server) kill() error {
	if err := s.command.Process.Kill(); err != nil {
		return err
	}
	_ = s.command.Wait()
	return nil
}

// killDatabase ends its PostgreSQL without a warning.
func (s *server) killDatabase() error {
	dir := s.dir
	if elsewhere, err := os.ReadFile(filepath.Join(dir, "location")); err == nil {
		dir = strings.TrimSpace(string(elsewhere))
	}
	lock, err := os.ReadFile(filepath.Join(dir, "data", "postmaster.pid"))
	if err != nil {
		return err
	}
	first, _, _ := strings.Cut(string(lock), "\n")
	pid, err := strconv.Atoi(first)
	if err != nil {
		return err
	}
	return syscall.Kill(pid, syscall.SIGKILL)
}

// memory returns how much memory the server has taken at most, in MiB.
func (s *server) memory() int {
	text, err := os.ReadFile(fmt.Sprintf("/proc/%d/status", s.command.Process.Pid))
	if err != nil {
		return 0
	}
	for line := range strings.Lines(string(text)) {
		if fields := strings.Fields(line); len(fields) > 1 && fields[0] == "VmHWM:" {
			kilobytes, _ := strconv.Atoi(fields[1])
			return kilobytes >> 10
		}
	}
	return 0
}
