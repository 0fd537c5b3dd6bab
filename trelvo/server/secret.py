import secrets
from pathlib import Path


def kept_secret(folder: Path) -> str:
    """The signing key of this data folder, made on first use and readable by its owner only."""
    file = folder / "secret.key"
    if not file.exists():
        folder.mkdir(parents=True, exist_ok=True)
        file.touch(mode=0o600)
        # whatever the system's usual permissions are
        file.chmod(0o600)
        file.write_text(secrets.token_urlsafe(48))
    return file.read_text()
