"""Setting up: the head square to the table, the vise true, the work held. Pure arithmetic and judgement.

Signs everywhere: X grows to the right, Y away from the person at the machine, Z up; an
indicator's reading grows as its tip is pushed in. Lengths are exact millimetres
(``Fraction``) until trigonometry needs floats. Source: reckoning of the job, sections 3 to 5.
"""
