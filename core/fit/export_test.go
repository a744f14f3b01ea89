package fit

// Evaluations are how often gradient and Hessian are worked out for a model, over all refits.
func Evaluations(trials []Trial) int {
	_, n := fitted(trials)
	return n
}
