//! A database's directory: made whole or not at all, closed to others, one program's at a time.

use kelvok_database::{Database, DatabaseError, Durability};
use std::fs;
use std::os::unix::fs::{MetadataExt, PermissionsExt};
use std::path::{Path, PathBuf};
use std::process::Command;
use std::time::{Duration, Instant};

struct Folder(PathBuf);

impl Folder {
    fn new(name: &str) -> Self {
        let path = std::env::temp_dir().join(format!("kelvok-{name}-{}", std::process::id()));
        let _ = fs::remove_dir_all(&path);
        Self(path)
    }
}

impl Drop for Folder {
    fn drop(&mut self) {
        let _ = fs::remove_dir_all(&self.0);
    }
}

fn mode(path: &Path) -> u32 {
    fs::metadata(path).expect("there").permissions().mode() & 0o777
}

#[test]
fn nobody_else_reads_it_and_nothing_listens_on_a_port() {
    let folder = Folder::new("closed");
    let database = Database::start(&folder.0, Durability::Relaxed).expect("a database");
    assert_eq!(mode(&folder.0), 0o700);
    assert_eq!(mode(&folder.0.join("password")), 0o600);
    assert_eq!(fs::metadata(folder.0.join("password")).unwrap().len(), 48, "24 random bytes");
    // No socket of this process is one of the network.
    let id = database.process_id().expect("it runs");
    let own: Vec<String> = fs::read_dir(format!("/proc/{id}/fd"))
        .expect("its files")
        .filter_map(|f| fs::read_link(f.ok()?.path()).ok())
        .map(|link| link.display().to_string())
        .collect();
    for table in ["tcp", "tcp6"] {
        for line in fs::read_to_string(format!("/proc/{id}/net/{table}")).unwrap().lines().skip(1) {
            let inode = line.split_whitespace().nth(9).expect("an inode");
            assert!(!own.contains(&format!("socket:[{inode}]")), "it listens: {line}");
        }
    }
    // The account owns its schema and nothing else, and no account is without a password.
    let grants = database.sql("show grants for 'kelvok'@'localhost'").expect("grants");
    let rights: Vec<_> = grants.lines().skip(1).collect();
    assert_eq!(rights.len(), 2, "{grants}");
    assert!(rights[0].starts_with("GRANT USAGE ON *.*"), "{grants}");
    assert!(rights[1].starts_with("GRANT ALL PRIVILEGES ON `kelvok`.*"), "{grants}");
    let open = "select count(*) from mysql.global_priv where user <> 'mariadb.sys' \
                and json_value(priv, '$.plugin') = 'mysql_native_password' \
                and json_value(priv, '$.authentication_string') in ('', 'invalid') \
                and user <> 'root'";
    assert!(database.sql(open).expect("a count").ends_with("\n0"));
    let root = Command::new("mariadb")
        .args(["--no-defaults", "--user=root", "--password=x"])
        .arg(format!("--socket={}", folder.0.join("m.sock").display()))
        .args(["--protocol=socket", "-e", "select load_file('/etc/passwd') is null"])
        .output()
        .expect("a client");
    // Whoever is root here administers it; even then no file outside is read.
    let text = String::from_utf8_lossy(&root.stdout);
    assert!(!root.status.success() || text.trim().ends_with('1'), "{text}");
}

#[test]
fn a_second_start_says_where_the_first_one_listens_and_leaves_it_alone() {
    let folder = Folder::new("taken");
    assert_eq!(Database::running_at(&folder.0).expect("nothing there"), None);
    let first = Database::start(&folder.0, Durability::Relaxed).expect("a database");
    first.listens_at("http://127.0.0.1:8780").expect("said");
    let second = Database::start(&folder.0, Durability::Relaxed).err().expect("refused");
    assert!(
        matches!(&second, DatabaseError::Taken { address: Some(a), .. } if a.ends_with(":8780"))
    );
    assert!(second.to_string().ends_with("already, at http://127.0.0.1:8780"), "{second}");
    first.sql("select 1").expect("the first one goes on");
    assert_eq!(Database::running_at(&folder.0).expect("there"), Some(first.url()));
    drop(first);
    Database::start(&folder.0, Durability::Relaxed).expect("free again");
}

#[test]
fn what_an_interrupted_making_left_is_cleared_away() {
    let folder = Folder::new("half");
    // Killed in the middle: half a directory under its making name, half a password.
    fs::create_dir_all(folder.0.join("db.making/mysql")).unwrap();
    fs::write(folder.0.join("db.making/ibdata1"), b"half").unwrap();
    fs::write(folder.0.join("password.making"), b"ha").unwrap();
    let database = Database::start(&folder.0, Durability::Relaxed).expect("a database");
    database.sql("select 1").expect("it answers");
    assert!(!folder.0.join("db.making").exists());
}

#[test]
fn a_directory_of_an_older_version_is_taken_over_and_closed() {
    let folder = Folder::new("old");
    fs::create_dir_all(&folder.0).unwrap();
    fs::set_permissions(&folder.0, fs::Permissions::from_mode(0o755)).unwrap();
    let making = Command::new("mariadb-install-db")
        .args(["--no-defaults", "--user=root", "--skip-test-db"])
        .arg("--auth-root-authentication-method=normal")
        .arg(format!("--datadir={}", folder.0.join("db").display()))
        .output()
        .expect("mariadb-install-db");
    assert!(making.status.success());
    let database = Database::start(&folder.0, Durability::Relaxed).expect("taken over");
    assert_eq!(mode(&folder.0), 0o700);
    let root = "select json_value(priv, '$.plugin') from mysql.global_priv \
                where user = 'root' and host = 'localhost'";
    assert!(database.sql(root).expect("a plugin").ends_with("unix_socket"));
    // And once more.
    drop(database);
    Database::start(&folder.0, Durability::Relaxed).expect("started again");
}

#[test]
fn a_path_too_long_for_a_socket_is_said_so() {
    let folder = Folder::new(&"deep".repeat(40));
    let refused = Database::start(&folder.0, Durability::Relaxed).err().expect("refused");
    assert!(matches!(refused, DatabaseError::TooDeep(_)), "{refused}");
    assert!(fs::metadata(&folder.0).unwrap().uid() == fs::metadata("/proc/self").unwrap().uid());
}

/// Run as a process of its own by the test below: starts a database and waits to be killed.
#[test]
#[ignore = "a part of another test"]
fn started_to_be_killed() {
    let Ok(folder) = std::env::var("KELVOK_TEST_FOLDER") else { return };
    let database = Database::start(Path::new(&folder), Durability::Relaxed).expect("a database");
    fs::write(Path::new(&folder).join("up"), database.process_id().unwrap().to_string()).unwrap();
    std::thread::sleep(Duration::from_secs(60));
}

#[test]
fn a_database_ends_with_its_program_however_that_ends() {
    let folder = Folder::new("guard");
    let mut program = Command::new(std::env::current_exe().unwrap())
        .args(["--exact", "started_to_be_killed", "--ignored"])
        .env("KELVOK_TEST_FOLDER", &folder.0)
        .stdout(std::process::Stdio::null())
        .spawn()
        .expect("itself");
    let began = Instant::now();
    let up = folder.0.join("up");
    while !up.exists() {
        assert!(began.elapsed() < Duration::from_secs(60), "it does not come up");
        std::thread::sleep(Duration::from_millis(50));
    }
    std::thread::sleep(Duration::from_millis(100));
    let id: u32 = fs::read_to_string(&up).unwrap().parse().unwrap();
    program.kill().expect("killed");
    program.wait().expect("gone");
    // It may be started again at once: the new one waits until the old one has ended.
    let next = Database::start(&folder.0, Durability::Relaxed).expect("started again");
    assert_ne!(next.process_id(), Some(id));
    // Nobody may be there to bury it.
    let stat = fs::read_to_string(format!("/proc/{id}/stat")).unwrap_or_default();
    assert!(
        !stat.contains("(mariadbd)") || stat.contains(") Z "),
        "the old one still runs: {stat}"
    );
}
