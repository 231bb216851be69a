//! What a database needs on the disk: each made whole or not at all, under another name first.

use super::Durability;
use super::error::{DatabaseError, unusable};
use super::tools::run;
use std::fs::{self, DirBuilder, File, Permissions};
use std::io::{Read, Write};
use std::os::unix::fs::{DirBuilderExt, MetadataExt, OpenOptionsExt, PermissionsExt};
use std::path::{Path, PathBuf};
use std::time::{SystemTime, UNIX_EPOCH};

/// Where MariaDB's files lie in the directory.
pub(super) const DATA: &str = "db";
/// What it is called while it is made.
const MAKING: &str = "db.making";
const PASSWORD: &str = "password";

/// The directory, made if need be, closed to everybody else.
pub(super) fn private(directory: &Path) -> Result<PathBuf, DatabaseError> {
    let failed = unusable(directory);
    DirBuilder::new().recursive(true).mode(0o700).create(directory).map_err(&failed)?;
    let directory = directory.canonicalize().map_err(&failed)?;
    if fs::metadata(&directory).map_err(&failed)?.uid() != own_id() {
        return Err(DatabaseError::NotOwn { path: directory });
    }
    fs::set_permissions(&directory, Permissions::from_mode(0o700)).map_err(&failed)?;
    for within in ["tmp", "files"] {
        let within = directory.join(within);
        DirBuilder::new().recursive(true).mode(0o700).create(&within).map_err(unusable(&within))?;
    }
    Ok(directory)
}

/// MariaDB's own files. An interrupted making leaves only what the next one clears away.
pub(super) fn data(directory: &Path, durability: Durability) -> Result<(), DatabaseError> {
    let whole = directory.join(DATA);
    if whole.exists() {
        return Ok(());
    }
    // Of a program that was killed in the middle; its maker may still be writing there, and what it
    // holds on to the next start clears away.
    for entry in fs::read_dir(directory).map_err(unusable(directory))?.flatten() {
        if entry.file_name().to_string_lossy().starts_with(MAKING) {
            let _ = fs::remove_dir_all(entry.path());
        }
    }
    let now = SystemTime::now().duration_since(UNIX_EPOCH).unwrap_or_default().as_nanos();
    let making = directory.join(format!("{MAKING}.{}.{now}", std::process::id()));
    run(
        "mariadb-install-db",
        [
            "--no-defaults".to_owned(),
            format!("--datadir={}", making.display()),
            format!("--tmpdir={}", directory.join("tmp").display()),
            "--auth-root-authentication-method=socket".to_owned(),
            format!("--auth-root-socket-user={}", administrator()),
            "--skip-test-db".to_owned(),
        ]
        .into_iter()
        .chain(as_user()),
    )?;
    if durability == Durability::Full {
        // On the disk before it has its name.
        run("sync", ["-f".to_owned(), making.display().to_string()])?;
    }
    fs::rename(&making, &whole).map_err(unusable(&whole))
}

/// The password of Kelvok's account, thought up at random the first time.
pub(super) fn password(directory: &Path) -> Result<String, DatabaseError> {
    let path = directory.join(PASSWORD);
    let failed = unusable(&path);
    if let Ok(kept) = fs::read_to_string(&path) {
        return Ok(kept);
    }
    let mut random = [0u8; 24];
    File::open("/dev/urandom").and_then(|mut f| f.read_exact(&mut random)).map_err(&failed)?;
    let password: String = random.iter().map(|byte| format!("{byte:02x}")).collect();
    let making = directory.join("password.making");
    let mut options = File::options();
    options.write(true).create(true).truncate(true).mode(0o600);
    let mut file = options.open(&making).map_err(&failed)?;
    file.write_all(password.as_bytes()).and_then(|()| file.sync_all()).map_err(&failed)?;
    fs::rename(&making, &path).map_err(&failed)?;
    Ok(password)
}

fn own_id() -> u32 {
    // A process belongs to whoever runs it.
    fs::metadata("/proc/self").map_or(0, |own| own.uid())
}

/// The account of whoever runs the program, which administers the server over its socket.
pub(super) fn administrator() -> String {
    match own_id() {
        0 => "root".to_owned(),
        id => run("id", ["-un".to_owned(), id.to_string()])
            .map_or_else(|_| id.to_string(), |name| name.trim().to_owned()),
    }
}

/// MariaDB runs as root only where it is told to.
pub(super) fn as_user() -> Option<String> {
    (own_id() == 0).then(|| "--user=root".to_owned())
}
