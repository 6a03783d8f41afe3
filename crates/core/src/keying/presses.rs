//! The fewest presses for a number on a blinking digit.

use std::collections::{HashMap, VecDeque};

use super::profile::{End, NumberEntry};

/// The keys of a blinking digit.
#[derive(Clone, Copy, Debug)]
pub struct DigitKeys<'a> {
    /// Turns it up.
    pub up: &'a str,
    /// Turns it down.
    pub down: Option<&'a str>,
    /// To the left.
    pub left: Option<&'a str>,
    /// To the right.
    pub right: Option<&'a str>,
    /// From one end to the other.
    pub round: bool,
    /// Where it begins.
    pub cursor: End,
}

impl<'a> DigitKeys<'a> {
    /// Of a profile's way of entering numbers; none for a keypad.
    pub fn of(entry: &'a NumberEntry) -> Option<Self> {
        match entry {
            NumberEntry::Digits { up, down, left, right, round, cursor, .. } => Some(Self {
                up,
                down: down.as_deref(),
                left: left.as_deref(),
                right: right.as_deref(),
                round: *round,
                cursor: *cursor,
            }),
            NumberEntry::Whole { .. } | NumberEntry::Keypad { .. } => None,
        }
    }

    /// Where the blinking is at first, in a field of `width`.
    pub const fn start(&self, width: usize) -> usize {
        match self.cursor {
            End::First => 0,
            End::Last => width.saturating_sub(1),
        }
    }

    /// Where the blinking goes from `at` with a move to the left or right.
    pub fn moved(&self, at: usize, width: usize, right: bool) -> Option<usize> {
        if right {
            self.right?;
            if at + 1 < width { Some(at + 1) } else { self.round.then_some(0) }
        } else {
            self.left?;
            if at > 0 { Some(at - 1) } else { self.round.then_some(width - 1) }
        }
    }

    /// The shortest way to turn one digit: how often, and downwards or not.
    fn turns(&self, from: u8, to: u8) -> (usize, bool) {
        let up = usize::from((to + 10 - from) % 10);
        if self.down.is_some() && up > 5 { (10 - up, true) } else { (up, false) }
    }
}

/// Where the blinking is, and which of the differing digits have been reached.
type At = (usize, u32);

/// The fewest keys that turn `from` into `to`; both are digits 0 to 9 of one width. `None` where a
/// digit cannot be reached.
pub fn fewest_presses<'a>(keys: &DigitKeys<'a>, from: &[u8], to: &[u8]) -> Option<Vec<&'a str>> {
    let width = to.len();
    let differs = |i: usize| from.get(i) != to.get(i);
    let all = (0..width).filter(|i| differs(*i)).fold(0u32, |mask, i| mask | 1 << i);
    let start = keys.start(width);
    let mark = |mask: u32, at: usize| mask | ((1 << at) & all);
    // Turning costs the same whenever it is done: only the walk over the digits has to be shortest.
    let begin = (start, mark(0, start));
    let mut came: HashMap<At, Option<(At, bool)>> = HashMap::from([(begin, None)]);
    let mut queue = VecDeque::from([begin]);
    let mut end = None;
    while let Some(state) = queue.pop_front() {
        if state.1 == all {
            end = Some(state);
            break;
        }
        for right in [true, false] {
            let Some(at) = keys.moved(state.0, width, right) else { continue };
            let next = (at, mark(state.1, at));
            came.entry(next).or_insert_with(|| {
                queue.push_back(next);
                Some((state, right))
            });
        }
    }
    let mut walk = Vec::new();
    let mut state = end?;
    while let Some(Some((before, right))) = came.get(&state) {
        walk.push(*right);
        state = *before;
    }
    walk.reverse();
    Some(play(keys, from, to, &walk))
}

/// The keys of a walk, each digit turned when it is reached first.
fn play<'a>(keys: &DigitKeys<'a>, from: &[u8], to: &[u8], walk: &[bool]) -> Vec<&'a str> {
    let width = to.len();
    let (mut at, mut done, mut out) = (keys.start(width), vec![false; width], Vec::new());
    let mut turn = |at: usize, out: &mut Vec<&'a str>| {
        if !std::mem::replace(&mut done[at], true) {
            let (times, down) = keys.turns(from[at], to[at]);
            let key = if down { keys.down.unwrap_or(keys.up) } else { keys.up };
            out.extend(std::iter::repeat_n(key, times));
        }
    };
    turn(at, &mut out);
    for right in walk {
        if let Some(next) = keys.moved(at, width, *right) {
            out.extend(if *right { keys.right } else { keys.left });
            at = next;
            turn(at, &mut out);
        }
    }
    out
}

/// Numbers that a field of so many digits can hold, zero among them.
fn numbers(width: usize) -> u64 {
    10_u64.saturating_pow(u32::try_from(width).unwrap_or(u32::MAX))
}

/// True where a field of `width` digits holds nothing greater.
pub fn is_last(number: u64, width: usize) -> bool {
    number + 1 == numbers(width)
}

/// One press of a key that turns a whole number in a field of `width` digits.
pub fn turned_whole(from: u64, width: usize, up: bool, round: bool) -> u64 {
    let all = numbers(width);
    match (up, from) {
        (true, from) if from + 1 < all => from + 1,
        (true, from) => {
            if round {
                0
            } else {
                from
            }
        }
        (false, 0) => {
            if round {
                all - 1
            } else {
                0
            }
        }
        (false, from) => from - 1,
    }
}

/// The shortest way to turn a whole number: how often, and upwards or not. `None` where no key leads there.
pub fn fewest_turns(from: u64, to: u64, width: usize, down: bool, round: bool) -> Option<(u64, bool)> {
    let all = numbers(width);
    let up = match to.checked_sub(from) {
        Some(ahead) => Some(ahead),
        None => round.then(|| all - from + to),
    };
    let back = match from.checked_sub(to) {
        Some(behind) => down.then_some(behind),
        None => (down && round).then(|| all - to + from),
    };
    let ways = up.map(|times| (times, true)).into_iter().chain(back.map(|times| (times, false)));
    ways.min_by_key(|(times, _)| *times)
}

/// What it takes without thinking: every digit turned upwards, one after the other from one end.
pub fn naive_presses(from: &[u8], to: &[u8]) -> usize {
    let turned: usize = from.iter().zip(to).map(|(f, t)| usize::from((t + 10 - f) % 10)).sum();
    turned + to.len().saturating_sub(1)
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn some(yes: bool, key: &'static str) -> Option<&'static str> {
        yes.then_some(key)
    }

    /// Looks at every state of a small field: the true minimum, found without any thought.
    fn exhaustive(keys: &DigitKeys, from: &[u8], to: &[u8]) -> usize {
        let width = to.len();
        let begin = (from.to_vec(), keys.start(width));
        let mut seen = HashMap::from([(begin.clone(), 0usize)]);
        let mut queue = VecDeque::from([begin]);
        while let Some((digits, at)) = queue.pop_front() {
            let so_far = seen[&(digits.clone(), at)];
            if digits == to {
                return so_far;
            }
            let mut next = Vec::new();
            let mut turned = |by: u8| {
                let mut other = digits.clone();
                other[at] = (other[at] + by) % 10;
                next.push((other, at));
            };
            turned(1);
            if keys.down.is_some() {
                turned(9);
            }
            next.extend(
                [true, false]
                    .into_iter()
                    .filter_map(|right| Some((digits.clone(), keys.moved(at, width, right)?))),
            );
            for state in next {
                if !seen.contains_key(&state) {
                    seen.insert(state.clone(), so_far + 1);
                    queue.push_back(state);
                }
            }
        }
        usize::MAX
    }

    proptest! {
        #![proptest_config(ProptestConfig::with_cases(60))]
        #[test]
        fn no_way_of_pressing_is_shorter_on_a_small_field(
            from in proptest::collection::vec(0u8..10, 3), to in proptest::collection::vec(0u8..10, 3),
            down in any::<bool>(), way in 0u8..3, round in any::<bool>(), last in any::<bool>(),
        ) {
            let (left, right) = (way != 1, way != 0);
            let cursor = match (left, right, round) {
                (true, false, false) => End::Last,
                (false, true, false) => End::First,
                _ if last => End::Last,
                _ => End::First,
            };
            let keys = DigitKeys { up: "u", down: some(down, "d"), left: some(left, "l"), right: some(right, "r"), round, cursor };
            let found = fewest_presses(&keys, &from, &to).unwrap();
            prop_assert_eq!(found.len(), exhaustive(&keys, &from, &to));
        }
    }

    proptest! {
        #[test]
        fn no_way_of_turning_a_whole_number_is_shorter(
            from in 0u64..100, to in 0u64..100, down in any::<bool>(), round in any::<bool>(),
        ) {
            let mut seen = vec![None; 100];
            seen[from as usize] = Some(0);
            let mut queue = VecDeque::from([from]);
            while let Some(at) = queue.pop_front() {
                for up in [true, false].into_iter().filter(|up| *up || down) {
                    let next = turned_whole(at, 2, up, round);
                    if seen[next as usize].is_none() {
                        seen[next as usize] = seen[at as usize].map(|n: u64| n + 1);
                        queue.push_back(next);
                    }
                }
            }
            let found = fewest_turns(from, to, 2, down, round);
            prop_assert_eq!(found.map(|(times, _)| times), seen[to as usize]);
            if let Some((times, up)) = found {
                let there = (0..times).fold(from, |at, _| turned_whole(at, 2, up, round));
                prop_assert_eq!(there, to);
            }
        }
    }

    #[test]
    fn the_short_way_round_is_taken() {
        let keys = DigitKeys {
            up: "up",
            down: Some("down"),
            left: Some("left"),
            right: None,
            round: false,
            cursor: End::Last,
        };
        assert_eq!(fewest_presses(&keys, &[0, 0, 0], &[0, 9, 0]).unwrap(), ["left", "down"]);
        assert_eq!(naive_presses(&[0, 0, 0], &[0, 9, 0]), 11);
        assert!(fewest_presses(&keys, &[1, 2, 3], &[1, 2, 3]).unwrap().is_empty());
    }
}
