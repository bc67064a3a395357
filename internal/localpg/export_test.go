package localpg

// Abandon gives up the folder as a kill -9 of this process would: the server
// lives on.
func (s *Server) Abandon() { s.lock.Close() }
