"""A job from Read to Ride and back, by a client that another program generated.

python gates/walk.py ADDRESS       with the generated package `client` on the path
"""

import sys
from typing import Any

from client import Client
from client.api.jobs import (
    jobs_add_proposal,
    jobs_add_ride,
    jobs_add_setup,
    jobs_add_step,
    jobs_answer,
    jobs_close,
    jobs_fitted,
    jobs_job,
    jobs_make_card,
    jobs_measure,
    jobs_offer,
    jobs_outcome,
    jobs_start,
    jobs_ways_back,
)
from client.api.machines import machines_change, machines_machine
from client.models import (
    Closing,
    MachineChange,
    Measured,
    NewCard,
    NewJob,
    NewProposal,
    NewRide,
    Outcome,
    RideSetup,
    StepsOnCard,
)

WHO = "Till"
FIGURES = {
    "wheelbase_mm": 1050,
    "head_angle_deg": 71.5,
    "fork.offset_mm": 45,
    "fork.length_mm": 395,
    "chainstay_mm": 445,
    "bb_height_mm": 285,
    "stack_mm": 580,
    "reach_mm": 390,
}


def main(address: str) -> None:
    """Walk; fail where an answer is not what the description says."""
    client = Client(
        base_url=address, headers={"Jentrik-Person": "Till"}, raise_on_unexpected_status=True
    )

    def told(answer: Any) -> Any:
        assert type(answer).__name__ != "Error", answer
        return answer.to_dict()

    new = NewJob.from_dict({"machine": "Generated tourer", "front_tire": "37-622"})
    job = told(jobs_start.sync(client=client, body=new, jentrik_person=WHO))
    read = {"client": client, "job_id": job["id"]}
    at = {**read, "jentrik_person": WHO}
    machine = {"client": client, "machine_id": job["machine_id"]}
    told(machines_machine.sync(**machine))
    told(machines_change.sync(**machine, body=MachineChange.from_dict({"figures": FIGURES})))
    wider = {"changes": {"front.tire": "40-622", "rear.tire": "40-622"}}
    name = told(jobs_add_proposal.sync(**at, body=NewProposal.from_dict(wider)))["proposal"]
    assert told(jobs_answer.sync(**read, proposal=name))["sentence"]
    assert "remedies" in told(jobs_ways_back.sync(**read, name=name))
    told(jobs_offer.sync(**read, proposal=name))
    card = told(jobs_make_card.sync(**at, body=NewCard.from_dict({"proposal": name})))
    steps = [_ticked(one) for one in card["steps"]]
    told(jobs_add_step.sync(**at, body=StepsOnCard.from_dict({"steps": steps})))
    told(jobs_measure.sync(**at, body=Measured.from_dict({"measured": {}})))
    told(jobs_fitted.sync(**at))
    told(jobs_close.sync(**at, body=Closing.from_dict({"act": "fitted"})))
    setup = told(jobs_add_setup.sync(**at, body=RideSetup.from_dict({"name": "As it rode"})))
    ride = {
        "setup": setup["setups"][-1]["id"],
        "weather": "dry",
        "ground": "firm",
        "form": "rested",
    }
    told(jobs_add_ride.sync(**at, body=NewRide.from_dict(ride)))
    back = Outcome.from_dict({"outcome": "go back", "setup": setup["setups"][0]["id"]})
    opened = told(jobs_outcome.sync(**at, body=back))["open_jobs"]
    assert told(jobs_job.sync(client=client, job_id=opened[-1]["id"]))["state"] == "open"


def _ticked(step: dict[str, Any]) -> dict[str, Any]:
    said: dict[str, Any] = {"id": step["id"], "act": "tick"}
    reading = step["reading"]
    if reading:
        ends = [one for one in (reading["at_least"], reading["at_most"]) if one is not None]
        in_words = reading["unit"] in ("", "words")
        said["reading"] = "done" if in_words else (ends or [10])[0]
    if step["fastener"]:
        said |= {"torque_nm": 20, "torque_source": "maker's manual"}
    return said


if __name__ == "__main__":
    main(sys.argv[1])
