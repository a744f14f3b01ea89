package app

// usualSetback is how many steps a setback lowers the reached one, where nobody says otherwise.
const UsualSetback = 2
