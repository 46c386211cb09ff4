"""Two lefts: mirrored pairs on a mat with one good face, over random builds, by another hand: which way each part turns
is read off its outline alone."""

import numpy as np
import pytest
import shapely

from tests.bodies import random_wearer
from tests.depth import DEEP, some
from vellumcut.core.nest.fill import Rules
from vellumcut.core.nest.search import Nest, first_plan
from vellumcut.formats.keeping.build_json import read_build
from vellumcut.service.pattern.patterns import cutting_pattern, work_from_file
from vellumcut.service.shop.layouts import Laid, drawn_sheet
from vellumcut.service.shop.nests import MaterialPlan, parts_of
