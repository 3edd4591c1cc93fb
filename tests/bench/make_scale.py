#!/usr/bin/env python3
# SPDX-License-Identifier: GPL-3.0-or-later
"""Large repositories for ./dev bench, always the same ones for the same seed.

    tests/bench/make_scale.py OUT [--case a|b|c|d|all] [--seed N] [--scale F]

a  OUT/a-tree.git   50,000 files in 2,000 folders, 20,000 commits; branches ours and theirs, 200 commits each
                    apart: 300 files changed on both sides (30 of them in conflict), 100 renames a side
b  OUT/b-file/      base.txt ours.txt theirs.txt of 100,000 lines: 1,000 conflict regions, 5,000 clean changes
c  OUT/c-criss.git  branches ours and theirs with 6 merge bases; the bases disagree among themselves
d  OUT/d-many.git   main and 40 branches under refs/remotes/origin/, diverged from it

--scale 0.1 makes everything ten times smaller.
"""
import argparse
import os
import random
import shutil
import subprocess

T0 = 1200000000
WORDS = ("alpha beta gamma delta value result index count buffer stream node left right parse render update cache "
         "signal widget layout commit branch merge folder path name size time error state event handle").split()


# Nobody's configuration decides what is made.
ENV = {name: value for name, value in os.environ.items() if not name.startswith("GIT_")}
ENV.update({"GIT_CONFIG_NOSYSTEM": "1", "GIT_CONFIG_GLOBAL": "/dev/null", "LC_ALL": "C", "TZ": "UTC"})


def git(repo, *args):
    subprocess.run(["git"] + (["-C", repo] if repo else []) + list(args), check=True, env=ENV)


class Importer:
    """Feeds git fast-import; keeps nothing but what the caller keeps."""

    def __init__(self, path):
        shutil.rmtree(path, True)
        git(None, "init", "-q", "--bare", "--template=", "--initial-branch=main", path)
        self.path = path
        self.p = subprocess.Popen(["git", "-C", path, "fast-import", "--quiet", "--force", "--date-format=raw",
                                   "--active-branches=80"], stdin=subprocess.PIPE, env=ENV)
        self.w = self.p.stdin.write
        self.mark = 0
        self.clock = T0
        self.buf = []
        self.held = 0

    def out(self, b):
        self.buf.append(b)
        self.held += len(b)
        if self.held > 1 << 20:
            self.w(b"".join(self.buf))
            self.buf, self.held = [], 0

    def commit(self, ref, msg, changes, parents=(), author="Dev"):
        """changes: list of ('M', path, bytes[, mode]) | ('D', path) | ('R', old, new); -> mark"""
        self.mark += 1
        self.clock += 37
        m = msg.encode()
        s = [b"commit %s\nmark :%d\ncommitter %s <dev@example.com> %d +0000\ndata %d\n%s\n" % (
            ref.encode(), self.mark, author.encode(), self.clock, len(m), m)]
        if parents:
            s.append(b"from :%d\n" % parents[0])
            for p in parents[1:]:
                s.append(b"merge :%d\n" % p)
        for c in changes:
            if c[0] == "M":
                s.append(b"M %s inline %s\ndata %d\n%s\n" % ((c[3] if len(c) > 3 else "100644").encode(), c[1].encode(), len(c[2]), c[2]))
            elif c[0] == "D":
                s.append(b"D %s\n" % c[1].encode())
            else:
                s.append(b"R %s %s\n" % (c[1].encode(), c[2].encode()))
        s.append(b"\n")
        self.out(b"".join(s))
        return self.mark

    def reset(self, ref, mark):
        self.out(b"reset %s\nfrom :%d\n\n" % (ref.encode(), mark))

    def done(self):
        self.w(b"".join(self.buf))
        self.p.stdin.close()
        if self.p.wait():
            raise SystemExit("fast-import failed")


def text(rnd, tag, n):
    g = rnd.getrandbits
    return ["%s %d: %s %s %08x" % (tag, i, WORDS[g(5)], WORDS[g(5)], g(32)) for i in range(n)]


def blob(l):
    return ("\n".join(l) + "\n").encode()


def case_a(out, seed, f):
    rnd = random.Random(seed)
    path = os.path.join(out, "a-tree.git")
    nfold, per = max(20, int(2000 * f)), 25
    ncommit, nbranch = max(50, int(20000 * f)), max(10, int(200 * f))
    nboth, nconf, nren = max(6, int(300 * f)), max(2, int(30 * f)), max(4, int(100 * f))
    imp = Importer(path)
    files, names = {}, []
    first = []
    for d in range(nfold):
        folder = "part%02d/%s%02d/mod%02d" % (d % 20, WORDS[(d // 20) % 10], (d // 20) % 10, d // 200)
        for k in range(per):
            p = "%s/%s_%d.%s" % (folder, WORDS[(d + k) % 32], k, ("c", "h", "txt", "py", "md")[k % 5])
            l = text(rnd, p[-14:], rnd.choice((12, 20, 30, 40, 60)))
            files[p] = l
            names.append(p)
            first.append(("M", p, blob(l)))
    last = imp.commit("refs/heads/main", "start: %d files" % len(names), first)
    del first
    tip = [last]

    def touch(ref, l, tag, parents=()):
        ch = []
        for p in l:
            t = files[p]
            t[rnd.randrange(len(t))] = "%s %08x" % (tag, rnd.getrandbits(32))
            ch.append(("M", p, blob(t)))
        return ch
    for n in range(ncommit - 1):
        ch = touch("main", rnd.sample(names, rnd.choice((1, 1, 2, 3, 4))), "c%d" % n)
        last = imp.commit("refs/heads/main", "work %d" % n, ch, author="Dev%d" % rnd.randrange(30))
    base = last
    pick = rnd.sample(names, nboth + 4 * nren + 40 * nbranch if nboth + 4 * nren + 40 * nbranch < len(names) else len(names) * 3 // 4)
    both, pick = pick[:nboth], pick[nboth:]
    conf = both[:nconf]
    ren = {"ours": pick[:nren], "theirs": pick[nren:2 * nren]}
    pick = pick[2 * nren:]
    free = {"ours": pick[:len(pick) // 2], "theirs": pick[len(pick) // 2:]}
    for side in ("ours", "theirs"):
        r2 = random.Random("%s-%s" % (seed, side))
        mine = {}
        jobs = [("both", p) for p in both] + [("ren", p) for p in ren[side]]
        other = "theirs" if side == "ours" else "ours"
        jobs += [("edit", p) for p in ren[other][:nren // 2]]        # renamed there, edited here
        jobs += [("free", p) for p in free[side][:nbranch * 6]]
        jobs += [("new", "part%02d/new_%s/file%d.txt" % (i % 20, side, i)) for i in range(nren)]
        jobs += [("del", p) for p in free[side][nbranch * 6:nbranch * 6 + nren // 2]]
        r2.shuffle(jobs)
        size = -(-len(jobs) // nbranch)
        last = base
        for n in range(nbranch):
            ch = []
            for kind, p in jobs[n * size:(n + 1) * size]:
                if kind == "new":
                    ch.append(("M", p, blob(text(r2, side, 15))))
                    continue
                if kind == "del":
                    ch.append(("D", p))
                    continue
                l = list(mine.get(p) or files[p])
                if kind == "both":
                    if p in conf:
                        l[len(l) // 2] = "%s changed this line %08x" % (side, r2.getrandbits(32))
                    elif side == "ours":
                        l[1] = "ours %08x" % r2.getrandbits(32)
                    else:
                        l[-2] = "theirs %08x" % r2.getrandbits(32)
                elif kind in ("free", "edit"):
                    l[r2.randrange(len(l))] = "%s %08x" % (side, r2.getrandbits(32))
                if kind == "ren":
                    np = "moved_%s/%s" % (side, p.replace("/", "_"))
                    ch.append(("R", p, np))
                    if r2.random() < 0.5:
                        l[0] = "%s header %08x" % (side, r2.getrandbits(32))
                        ch.append(("M", np, blob(l)))
                    continue
                mine[p] = l
                ch.append(("M", p, blob(l)))
            last = imp.commit("refs/heads/" + side, "%s %d" % (side, n), ch, parents=[last])
    imp.done()


def case_b(out, seed, f):
    rnd = random.Random(seed + 1)
    nl, nc, ne = int(100000 * f), int(1000 * f), int(5000 * f)
    base = text(rnd, "line", nl)
    slots = list(range(nc + ne))
    step = nl // (nc + ne)
    rnd.shuffle(slots)
    what = {}
    for i, s in enumerate(slots):
        what[s] = "c" if i < nc else ("o" if i % 2 else "t")
    o, t = {}, {}                                               # line -> replacement lines
    for s, w in what.items():
        at = s * step + step // 2
        kind = rnd.randrange(4)
        if w == "c":
            n = rnd.choice((1, 1, 2, 3))
            for k in range(n):
                o[at + k] = ["ours %d.%d %08x" % (s, k, rnd.getrandbits(32))]
                t[at + k] = ["theirs %d.%d %08x" % (s, k, rnd.getrandbits(32))]
        else:
            d = o if w == "o" else t
            new = "%s %d %08x" % ("ours" if w == "o" else "theirs", s, rnd.getrandbits(32))
            d[at] = [new] if kind < 2 else [base[at], new] if kind == 2 else []
    ol = [x for i, l in enumerate(base) for x in o.get(i, [l])]
    tl = [x for i, l in enumerate(base) for x in t.get(i, [l])]
    d = os.path.join(out, "b-file")
    os.makedirs(d, exist_ok=True)
    for n, l in (("base", base), ("ours", ol), ("theirs", tl)):
        with open(os.path.join(d, n + ".txt"), "wb") as fh:
            fh.write(blob(l))
    imp = Importer(os.path.join(out, "b-file.git"))
    b = imp.commit("refs/heads/main", "base", [("M", "big.txt", blob(base))])
    imp.commit("refs/heads/ours", "ours", [("M", "big.txt", blob(ol))], parents=[b])
    imp.commit("refs/heads/theirs", "theirs", [("M", "big.txt", blob(tl))], parents=[b])
    imp.done()


def case_c(out, seed, f):
    rnd = random.Random(seed + 2)
    path = os.path.join(out, "c-criss.git")
    nb, nf = 6, max(40, int(2000 * f))
    imp = Importer(path)
    files = {"d%02d/e%02d/file%d.txt" % (i % 40, (i // 40) % 10, i): text(rnd, "f%d" % i, 40) for i in range(nf)}
    names = sorted(files)
    root = imp.commit("refs/heads/main", "root", [("M", p, blob(files[p])) for p in names])
    hot = rnd.sample(names, 20)
    bases, state = [], []
    for k in range(nb):
        last, st = root, {}
        for n in range(5):
            ch = []
            for p in rnd.sample(names, 15):
                l = list(st.get(p, files[p]))
                l[3 + 5 * k] = "base %d.%d %08x" % (k, n, rnd.getrandbits(32))
                st[p] = l
                ch.append(("M", p, blob(l)))
            if n == 2:                                           # the bases disagree about these
                for p in hot:
                    l = list(st.get(p, files[p]))
                    l[20] = "disputed, version %d" % (k % 3)
                    st[p] = l
                    ch.append(("M", p, blob(l)))
            last = imp.commit("refs/heads/base%d" % k, "base %d step %d" % (k, n), ch, parents=[last])
        bases.append(last)
        state.append(st)
    for side in ("ours", "theirs"):
        order = list(range(nb)) if side == "ours" else list(range(nb))[::-1]
        cur = dict(state[order[0]])
        last = bases[order[0]]
        for k in order[1:]:
            ch = []
            for p, l in sorted(state[k].items()):
                c = list(cur.get(p, files[p]))
                for i, x in enumerate(l):
                    if x != files[p][i]:
                        c[i] = x
                if p in hot:
                    c[20] = "disputed, settled by both" if hot.index(p) < 12 else "disputed, settled by " + side
                cur[p] = c
                ch.append(("M", p, blob(c)))
            last = imp.commit("refs/heads/" + side, "%s takes in base %d" % (side, k), ch, parents=[last, bases[k]])
        r2 = random.Random("%s/%s" % (seed, side))
        common = random.Random(seed + 9).sample(names, 40)
        for n in range(10):
            ch = []
            for p in ([common[i] for i in range(n * 4, n * 4 + 4)] + r2.sample(names, 4)):
                c = list(cur.get(p, files[p]))
                c[36 if side == "ours" or p in common[:10] else 1] = "%s step %d" % (side, n)
                cur[p] = c
                ch.append(("M", p, blob(c)))
            last = imp.commit("refs/heads/" + side, "%s step %d" % (side, n), ch, parents=[last])
    imp.done()


def case_d(out, seed, f):
    rnd = random.Random(seed + 3)
    path = os.path.join(out, "d-many.git")
    nf, nmain, nbr = max(60, int(5000 * f)), max(40, int(400 * f)), 40
    imp = Importer(path)
    names, files = [], {}
    for i in range(nf):
        p = "src/area%02d/pkg%02d/%s%d.txt" % (i % 25, (i // 25) % 12, WORDS[i % 32], i)
        names.append(p)
        files[p] = text(rnd, "f%d" % i, 30)
    last = imp.commit("refs/heads/main", "start", [("M", p, blob(files[p])) for p in names])
    hist = [(last, {})]
    cur = {}
    changed_at = []
    for n in range(nmain):
        ch, touched = [], rnd.sample(names, 3)
        for p in touched:
            l = list(cur.get(p, files[p]))
            l[rnd.randrange(12, 18)] = "main %d %08x" % (n, rnd.getrandbits(32))
            cur[p] = l
            ch.append(("M", p, blob(l)))
        changed_at.append(touched)
        last = imp.commit("refs/heads/main", "main %d" % n, ch, author="Dev%d" % rnd.randrange(12))
        hist.append((last, dict(cur)))
    for k in range(nbr):
        kind = "merged" if k % 10 == 0 else "ahead" if k % 10 == 1 else "conflict" if k % 10 in (2, 5, 8) else "clean"
        at = nmain if kind == "ahead" else rnd.randrange(nmain // 2, nmain - 12)
        start, st = hist[at]
        ref = "refs/remotes/origin/%s-%02d" % (rnd.choice(("feature/", "fix/", "user/dev")) + rnd.choice(WORDS), k)
        if kind == "merged":
            imp.reset(ref, start)
            continue
        mine, lastb = dict(st), start
        later = sorted({p for t in changed_at[at:] for p in t})
        for n in range(rnd.randrange(1, 30)):
            ch = []
            todo = rnd.sample(names, 2)
            if kind == "conflict" and n == 0:
                todo += rnd.sample(later, min(3, len(later)))
            for p in todo:
                l = list(mine.get(p, files[p]))
                if kind == "conflict" and p in later:
                    for i in range(12, 18):
                        l[i] = "branch %d line %d %08x" % (k, i, rnd.getrandbits(32))
                else:
                    l[rnd.choice((2, 26))] = "branch %d.%d %08x" % (k, n, rnd.getrandbits(32))
                mine[p] = l
                ch.append(("M", p, blob(l)))
            if n == 1 and k % 3 == 0:
                p = rnd.choice(names)
                ch = [c for c in ch if c[1] != p] + [("R", p, "src/renamed%02d/%s" % (k, os.path.basename(p)))]
                mine.pop(p, None)
                lastb = imp.commit(ref, "branch %d.%d" % (k, n), ch, parents=[lastb], author="Dev%d" % (k % 12))
                break
            lastb = imp.commit(ref, "branch %d.%d" % (k, n), ch, parents=[lastb], author="Dev%d" % (k % 12))
    imp.reset("refs/remotes/origin/main", last)
    imp.done()
    git(path, "config", "remote.origin.url", path)
    git(path, "config", "remote.origin.fetch", "+refs/heads/*:refs/remotes/origin/*")


def main():
    parser = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    parser.add_argument("out")
    parser.add_argument("--case", default="all", choices=["a", "b", "c", "d", "all"])
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--scale", type=float, default=1.0)
    arguments = parser.parse_args()
    os.makedirs(arguments.out, exist_ok=True)
    cases = {"a": case_a, "b": case_b, "c": case_c, "d": case_d}
    for name in cases if arguments.case == "all" else arguments.case:
        cases[name](arguments.out, arguments.seed, arguments.scale)


if __name__ == "__main__":
    main()
