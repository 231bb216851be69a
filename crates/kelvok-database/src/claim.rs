//! Who runs the database of a directory: one program at a time. The system lets go of a claim when
//! its program ends, however it ends.

use super::error::{DatabaseError, unusable};
use std::fs::{File, TryLockError};
use std::io::{Read, Seek, Write};
use std::path::Path;

/// A hold on a directory.
#[derive(Debug)]
pub struct Claim {
    file: File,
}

impl Claim {
    /// Takes hold of a directory.
    ///
    /// # Errors
    /// Another program has it, or it cannot be written to.
    pub fn take(directory: &Path) -> Result<Self, DatabaseError> {
        let path = directory.join("claim");
        let options = File::options().read(true).write(true).create(true).truncate(false).clone();
        let mut file = options.open(&path).map_err(unusable(&path))?;
        match file.try_lock() {
            Ok(()) => {
                let claim = Self { file };
                claim.say("").map_err(unusable(&path))?;
                Ok(claim)
            }
            Err(TryLockError::WouldBlock) => {
                let mut address = String::new();
                let read = file.read_to_string(&mut address).is_ok() && !address.is_empty();
                let directory = directory.to_owned();
                Err(DatabaseError::Taken { directory, address: read.then_some(address) })
            }
            Err(TryLockError::Error(source)) => Err(unusable(&path)(source)),
        }
    }

    /// Says where its program listens.
    ///
    /// # Errors
    /// It cannot be written.
    pub fn say(&self, address: &str) -> std::io::Result<()> {
        let mut file = &self.file;
        file.set_len(0)?;
        file.rewind()?;
        file.write_all(address.as_bytes())
    }
}
