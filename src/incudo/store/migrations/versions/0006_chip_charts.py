"""Ranges of materials say the chip load against the cutter's diameter; one pair for all diameters becomes a chart."""

import json
from collections.abc import Callable
from fractions import Fraction
from typing import Any

import sqlalchemy as sa
from alembic import op

revision = '0006'
down_revision = '0005'

#: The diameter, in mm, that the old pair is taken to have been meant for.
MEANT_FOR = {'milling': Fraction('12.7'), 'facing': Fraction(50), 'drilling': Fraction('12.7')}
#: A chart begins at this share of that diameter, in proportion.
FIRST = Fraction(1, 8)


Change = Callable[[dict[str, Any]], None]


def _rewritten(content: str, change: Change) -> str:
    stock = json.loads(content)
    for one in stock.get('ranges', ()):
        change(one)
    return json.dumps(stock, ensure_ascii=False)


def _to_chart(one: dict[str, Any]) -> None:
    if 'f_low' not in one:
        return
    low, high = Fraction(one.pop('f_low')), Fraction(one.pop('f_high'))
    full = MEANT_FOR[one['operation']]
    one['chart'] = ' '.join(
        f'{float(d):g}:{float(low * d / full):.5g}-{float(high * d / full):.5g}' for d in (full * FIRST, full)
    )


def _to_pair(one: dict[str, Any]) -> None:
    if 'chart' not in one:
        return
    low, _, high = one.pop('chart').split()[-1].partition(':')[2].partition('-')
    one['f_low'], one['f_high'] = low, high


def _each(change: Change) -> None:
    db = op.get_bind()
    for key, content in db.execute(sa.text('SELECT `key`, content FROM material')).all():
        db.execute(
            sa.text('UPDATE material SET content = :content WHERE `key` = :key'),
            {'content': _rewritten(content, change), 'key': key},
        )


def upgrade() -> None:
    _each(_to_chart)


def downgrade() -> None:
    _each(_to_pair)
