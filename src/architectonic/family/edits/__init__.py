"""Edits: functions from family to family; each raises UserFault and changes nothing when it cannot be done."""

from architectonic.family.edits.alternates import *
from architectonic.family.edits.bonds import *
from architectonic.family.edits.building import *
from architectonic.family.edits.configurations import *
from architectonic.family.edits.documents import *
from architectonic.family.edits.partitems import *
from architectonic.family.edits.repeating import *
from architectonic.family.edits.values import *
