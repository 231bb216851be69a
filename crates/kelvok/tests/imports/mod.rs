//! Who imports whom in a crate, file by file: every path that begins with `crate` or `super` is followed
//! through what modules re-export to the file that has it.

use std::collections::{BTreeMap, BTreeSet};
use std::path::Path;
use syn::visit::Visit;

/// A module by the names on the way to it; the crate's root has none.
pub type Module = Vec<String>;

/// The modules of a crate, each with those that it imports from.
pub fn graph(source: &Path) -> BTreeMap<Module, BTreeSet<Module>> {
    let mut files = BTreeMap::new();
    for path in super::files(source, &[".rs"]) {
        let inside = path.strip_prefix(source).expect("inside").with_extension("");
        let mut module: Module =
            inside.iter().map(|part| part.to_string_lossy().into_owned()).collect();
        if module.last().is_some_and(|last| last == "mod" || last == "lib") {
            module.pop();
        }
        let file = syn::parse_file(&super::read(&path)).expect("Rust");
        files.insert(module, File::read(&file));
    }
    let of = |module: &Module, file: &File| -> BTreeSet<Module> {
        let paths = file.paths.iter().chain(&file.imports);
        let found = paths.filter_map(|path| resolve(&files, module, path, 0));
        found.filter(|to| to != module).collect()
    };
    files.iter().map(|(module, file)| (module.clone(), of(module, file))).collect()
}

/// Modules that import one another in a round; none where there is no such round.
pub fn cycle(graph: &BTreeMap<Module, BTreeSet<Module>>) -> Option<Vec<Module>> {
    let mut done: BTreeSet<&Module> = BTreeSet::new();
    for start in graph.keys() {
        let mut way: Vec<(&Module, Vec<&Module>)> = vec![(start, graph[start].iter().collect())];
        while let Some((at, left)) = way.last_mut() {
            match left.pop() {
                _ if done.contains(*at) => {
                    way.pop();
                }
                Some(next) => {
                    if let Some(from) = way.iter().position(|(module, _)| *module == next) {
                        return Some(way[from..].iter().map(|(m, _)| (*m).clone()).collect());
                    }
                    way.push((next, graph[next].iter().collect()));
                }
                None => {
                    done.insert(at);
                    way.pop();
                }
            }
        }
    }
    None
}

/// What a file imports, re-exports, and names in full.
#[derive(Default)]
struct File {
    imports: Vec<Vec<String>>,
    /// By name.
    exports: BTreeMap<String, Vec<String>>,
    paths: Vec<Vec<String>>,
}

impl File {
    fn read(file: &syn::File) -> Self {
        let mut own = Self::default();
        own.visit_file(file);
        own
    }
}

impl<'ast> Visit<'ast> for File {
    fn visit_item_mod(&mut self, module: &'ast syn::ItemMod) {
        // Tests inside a file may ask whom they like.
        if module.content.is_none() || module.ident != "tests" {
            syn::visit::visit_item_mod(self, module);
        }
    }

    /// `pub(super)` imports nothing.
    fn visit_visibility(&mut self, _: &'ast syn::Visibility) {}

    fn visit_item_use(&mut self, item: &'ast syn::ItemUse) {
        let public = !matches!(item.vis, syn::Visibility::Inherited);
        let mut leaves = Vec::new();
        flatten(&item.tree, &mut Vec::new(), &mut leaves);
        for (name, path) in leaves {
            match public {
                true => {
                    self.exports.insert(name, path);
                }
                false => self.imports.push(path),
            }
        }
    }

    fn visit_path(&mut self, path: &'ast syn::Path) {
        self.paths.push(path.segments.iter().map(|s| s.ident.to_string()).collect());
        syn::visit::visit_path(self, path);
    }
}

fn flatten(tree: &syn::UseTree, way: &mut Vec<String>, leaves: &mut Vec<(String, Vec<String>)>) {
    let mut leaf = |name: String, last: String| {
        let mut path = way.clone();
        if last != "self" {
            path.push(last);
        }
        leaves.push((name, path));
    };
    match tree {
        syn::UseTree::Path(path) => {
            way.push(path.ident.to_string());
            flatten(&path.tree, way, leaves);
            way.pop();
        }
        syn::UseTree::Group(group) => group.items.iter().for_each(|t| flatten(t, way, leaves)),
        syn::UseTree::Name(name) => leaf(name.ident.to_string(), name.ident.to_string()),
        syn::UseTree::Rename(name) => leaf(name.rename.to_string(), name.ident.to_string()),
        syn::UseTree::Glob(_) => leaf("*".to_owned(), "self".to_owned()),
    }
}

/// The module that has what a path names, if it is one of this crate's.
fn resolve(
    files: &BTreeMap<Module, File>,
    from: &Module,
    path: &[String],
    depth: usize,
) -> Option<Module> {
    let (mut at, mut rest): (Module, &[String]) = match path.first()?.as_str() {
        "crate" => (Vec::new(), &path[1..]),
        "self" => (from.clone(), &path[1..]),
        "super" => (from.clone(), path),
        // Of a module's own children.
        first => {
            let child = [from.as_slice(), &[first.to_owned()]].concat();
            files.contains_key(&child).then_some(())?;
            (from.clone(), path)
        }
    };
    while rest.first().is_some_and(|s| s == "super") {
        at.pop();
        rest = &rest[1..];
    }
    while let Some((next, after)) = rest.split_first() {
        let child = [at.as_slice(), std::slice::from_ref(next)].concat();
        if files.contains_key(&child) {
            (at, rest) = (child, after);
            continue;
        }
        let exported = files.get(&at)?.exports.get(next).filter(|_| depth < 8);
        return match exported {
            Some(exported) => resolve(files, &at, exported, depth + 1).or(Some(at)),
            None => Some(at),
        };
    }
    Some(at)
}
