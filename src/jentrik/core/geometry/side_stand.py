r"""How a machine leans on its side stand, after wheels of other sizes.

    rear view; C line of the tire contacts, S foot of the stand on the ground, lean w

        \                  in the machine's own frame the foot lies  f cos w  to the side
         \  |              and  f sin w  up from the contact line; both are the machine's.
          \ |w             When the chassis above the foot comes down by D, the foot stands
     S_____\|C             f sin w - D up, and the new lean is
       f                   tan w' = (f sin w - D) / (f cos w)

Thin tire.  D is the way the foot itself moves in the machine's plane when the chassis settles
anew, so the answer is exact for a rigid machine.  Source: derived.
"""

from jentrik.core.geometry.frame import Values, maths
from jentrik.core.geometry.pose import Pose


def lean_on_stand(
    *, lean_deg: Values, foot_out_mm: Values, foot_x_mm: Values, pose: Pose
) -> Values:
    """Return the new lean in degrees; negative is past upright, away from the stand."""
    m = maths(lean_deg)
    lean = m.radians(lean_deg)
    foot_up = foot_out_mm * m.sin(lean)
    _, now_up = pose.place((foot_x_mm, foot_up))
    m = maths(now_up)
    answer: Values = m.degrees(m.atan2(now_up, foot_out_mm * m.cos(lean)))
    return answer
