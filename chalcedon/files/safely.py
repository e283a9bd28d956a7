"""Writing a file such that at no moment there is less than a complete one, and nothing about it is lost unsaid."""

from __future__ import annotations

import contextlib
import errno
import os
import re
import secrets
import shutil
import stat
from pathlib import Path

from chalcedon.problems import ChalcedonError, shorten_name

LONGEST_NAME = 255 - 30
"""Bytes of a file name: 255 are usual, and while a file is written it has a longer one."""


def write_safely(path: Path, data: bytes, what: str = "scene", backup: bool = True) -> list[str]:
    """Writes beside the file, syncs, keeps the old file as `name~` when there is to be a `backup`, and renames.

    A link stays a link. Permissions, owner, group and extended attributes are kept; what couldn't be is returned as
    sentences. Raises ChalcedonError when it is not possible to write; what was there is then untouched.
    """
    _check_name(path, what)
    target = Path(os.path.realpath(path))
    temporary = _beside(target)
    try:
        before = _look(target, path, what)
        _write(temporary, data)
        try:
            lost = _dress(temporary, target, before)
            if before is not None and backup:
                _keep(target)
            os.replace(temporary, target)
        finally:
            temporary.unlink(missing_ok=True)
        _sync_folder(target.parent)
        _clear_up(target)
    except OSError as error:
        raise _refused(path, error, what) from None
    return lost


def _check_name(path: Path, what: str) -> None:
    text = os.fspath(path)
    why = ""
    if "\0" in text:
        why = "a file name can't hold the character NUL."
    else:
        try:
            size = len(os.fsencode(path.name))
        except UnicodeEncodeError:
            why = "the file name holds half a character (a lone surrogate)."
        else:
            if size > LONGEST_NAME:
                why = f"the file name is too long: {size} bytes, and up to {LONGEST_NAME} can be saved safely."
    if why:
        raise ChalcedonError(f"the {what} was not saved: {why}", shorten_name(text.replace("\0", "\\0")))


def _look(target: Path, path: Path, what: str) -> os.stat_result | None:
    """The state of the file that is to be replaced; None when there is none."""
    try:
        about = os.stat(target)
    except FileNotFoundError:
        return None
    if stat.S_ISDIR(about.st_mode):
        raise ChalcedonError("this is a folder.", str(path), "Give a file name in it.")
    if not stat.S_ISREG(about.st_mode):
        raise ChalcedonError(f"this is a device or a pipe; the {what} was not saved.", str(path), "Give another name.")
    if not os.access(target, os.W_OK):
        raise PermissionError(errno.EACCES, "the file is read-only")
    return about


def _write(temporary: Path, data: bytes) -> None:
    # O_EXCL: never through something that stands there under the same name
    handle = os.open(temporary, os.O_WRONLY | os.O_CREAT | os.O_EXCL | os.O_NOFOLLOW, 0o600)
    try:
        with os.fdopen(handle, "wb") as file:
            file.write(data)
            file.flush()
            os.fsync(file.fileno())
    except BaseException:
        temporary.unlink(missing_ok=True)
        raise


def _dress(temporary: Path, target: Path, before: os.stat_result | None) -> list[str]:
    """Gives the new file what the old one had beside its bytes; says what could not be given."""
    if before is None:
        os.chmod(temporary, _usual_mode())
        return []
    lost = []
    now = os.stat(temporary)
    for word, mine, theirs in (("group", now.st_gid, before.st_gid), ("owner", now.st_uid, before.st_uid)):
        if mine != theirs:
            try:
                os.chown(temporary, *((-1, theirs) if word == "group" else (theirs, -1)))
            except OSError:
                lost.append(f"Its {word} could not be kept.")
    os.chmod(temporary, stat.S_IMODE(before.st_mode))
    if before.st_nlink > (2 if _same_file(target.with_name(target.name + "~"), before) else 1):
        lost.append("Its other names (hard links) still hold the version before.")
    try:
        names = os.listxattr(target)
    except OSError:
        names = []
    for name in names:
        try:
            os.setxattr(temporary, name, os.getxattr(target, name))
        except OSError:
            if not name.startswith("security."):  # labels of the system, which gives new files their own
                lost.append(f"Its extended attribute {name} could not be kept.")
    return lost


def _same_file(path: Path, about: os.stat_result) -> bool:
    try:
        return os.path.samestat(os.lstat(path), about)
    except OSError:
        return False


def _usual_mode() -> int:
    """The permissions of a new file of this process; temporary files are made narrower."""
    umask = os.umask(0)
    os.umask(umask)
    return 0o666 & ~umask


def _keep(target: Path) -> None:
    """The old version as `name~`: a second name of the same bytes where the file system allows, else a copy."""
    beside = _beside(target)
    try:
        try:
            os.link(target, beside)
        except OSError:
            _write(beside, target.read_bytes())
            with contextlib.suppress(OSError):
                shutil.copystat(target, beside)
        number = 1
        while True:
            backup = target.with_name(target.name + "~" + (str(number) if number > 1 else ""))
            if not (backup.is_dir() and not backup.is_symlink()):
                break
            number += 1  # a folder has that name
        os.replace(beside, backup)
    finally:
        beside.unlink(missing_ok=True)


def _beside(target: Path) -> Path:
    """A name for a file that is being written; `_clear_up` knows it by its form."""
    return target.with_name(f".{target.name}.{os.getpid()}-{secrets.token_hex(4)}.part")


def _clear_up(target: Path) -> None:
    """Takes away what savings that were killed left beside the file."""
    pattern = re.compile(re.escape(f".{target.name}.") + r"(\d{1,9})-[0-9a-f]{8}\.part$")
    with contextlib.suppress(OSError):
        for entry in os.scandir(target.parent):
            match = pattern.match(entry.name)
            if match and not _runs(int(match[1])):
                with contextlib.suppress(OSError):
                    os.unlink(entry.path)


def _runs(pid: int) -> bool:
    """Whether a process that may be saving is still there. This one has ended all its savings but the present one."""
    if pid == os.getpid():
        return False
    try:
        os.kill(pid, 0)
    except ProcessLookupError:
        return False
    except OSError:
        pass
    return True


def _sync_folder(folder: Path) -> None:
    try:
        handle = os.open(folder, os.O_RDONLY)
    except OSError:
        return
    try:
        os.fsync(handle)
    except OSError:
        pass  # some file systems don't sync folders; the file itself is safe
    finally:
        os.close(handle)


def _refused(path: Path, error: OSError, what: str) -> ChalcedonError:
    reasons = {
        errno.EACCES: ("it may not be written there.", "Save it in a folder of your own."),
        errno.EPERM: ("it may not be written there.", "Save it in a folder of your own."),
        errno.EROFS: ("the disk is read-only.", "Save it elsewhere."),
        errno.ENOSPC: ("the disk is full.", "Make room, or save it elsewhere."),
        errno.EDQUOT: ("your quota on this disk is used up.", "Make room, or save it elsewhere."),
        errno.EFBIG: ("a file of that size may not be written there.", "Save it elsewhere."),
        errno.ENOENT: ("there is no such folder.", "Choose a folder that exists."),
        errno.ENOTDIR: ("part of the path is not a folder.", "Choose a folder that exists."),
        errno.ENAMETOOLONG: ("the path is too long.", "Choose a shorter one."),
        errno.ELOOP: ("symbolic links there lead in a circle.", "Choose another name."),
    }
    why, hint = reasons.get(error.errno or 0, (f"{error.strerror or error}.", ""))
    return ChalcedonError(f"the {what} was not saved: {why}", str(path), f"{hint} What was there is unchanged.".strip())
