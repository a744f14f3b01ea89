// Package caution says which caution belongs where: of a dog and a plan, of a step, of what the weather and the place are like; and what
// rules a plan out for a dog. Every caution defers to local law, to the venue's rules, and to licensed or certified professionals.
//
//	caution.OfConditions([]string{"hot"})        // what to mind on a hot day
//	ruled := caution.RulesOut(dog.Flags, plan)   // nil, or why the plan is not begun with this dog, and what to do instead
//
// Pure functions over values.
package caution
