"""Card layouts: what wrote this card? One small class each, registered in `LAYOUTS`, most telling first."""

from .avchd import Avchd
from .base import IndexNames, Layout, Reading
from .contents import ContentsFolders, ContentsList
from .dcf import DcfStills
from .media_profile import Bpav, M4Root
from .plain import Plain
from .reels import Reels
from .sound import SoundRecorder

PLAIN = Plain()
LAYOUTS: tuple[Layout, ...] = (
    Bpav(),
    M4Root(),
    Avchd(),
    ContentsList(),
    ContentsFolders(),
    DcfStills(),
    Reels(),
    SoundRecorder(),
    PLAIN,
)

__all__ = ["LAYOUTS", "PLAIN", "IndexNames", "Layout", "Reading"]
