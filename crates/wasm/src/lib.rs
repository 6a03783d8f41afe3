//! The border between the page and the core: a question as JSON goes in, an answer as JSON comes out. Everything
//! behind it is [`ombret_core::offline`]; nothing is decided here.

use std::cell::RefCell;

use ombret_core::offline::Offline;

thread_local! {
    static OFFLINE: RefCell<Offline> = RefCell::new(Offline::default());
}

/// Room for a question of `len` bytes; the page writes it there.
#[unsafe(no_mangle)]
pub extern "C" fn room(len: usize) -> *mut u8 {
    Box::into_raw(vec![0u8; len].into_boxed_slice()).cast()
}

/// Answers the question that was written into a room of `len` bytes and takes the room back. The upper half of
/// what is returned is the address of the answer, the lower half its length in bytes; the page gives it back.
///
/// # Safety
/// `question` came from [`room`] with the same `len` and was not used since.
#[unsafe(no_mangle)]
pub unsafe extern "C" fn answer(question: *mut u8, len: usize) -> u64 {
    // SAFETY: by this function's own condition these are the bytes that `room` let go of.
    let asked = unsafe { Box::from_raw(std::ptr::slice_from_raw_parts_mut(question, len)) };
    let told = OFFLINE.with_borrow_mut(|offline| offline.answer(&String::from_utf8_lossy(&asked)));
    let told = told.into_bytes().into_boxed_slice();
    let len = told.len() as u64;
    let at = Box::into_raw(told).cast::<u8>() as usize as u64;
    (at << 32) | len
}

/// Takes an answer back.
///
/// # Safety
/// `told` and `len` came from [`answer`] and were not given back before.
#[unsafe(no_mangle)]
pub unsafe extern "C" fn give_back(told: *mut u8, len: usize) {
    // SAFETY: by this function's own condition these are the bytes that `answer` let go of.
    drop(unsafe { Box::from_raw(std::ptr::slice_from_raw_parts_mut(told, len)) });
}
