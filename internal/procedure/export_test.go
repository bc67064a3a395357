package procedure

// WorkUnfinished works a problem up to the point at which its quantities can be recomputed.
var WorkUnfinished = work
