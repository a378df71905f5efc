"""A sealed job stays sealed, whoever asks."""

from fastapi.testclient import TestClient

from jentrik.store import documents, jobs


def test_a_second_close_is_refused_and_points_to_a_correction(client: TestClient) -> None:
    client.post("/people/here", data={"who": "Ida"})
    why = {"why": "lent to the sailing club"}
    by = {"Jentrik-Person": "Ida"}
    assert client.post("/api/jobs/3/close", json=why, headers=by).status_code == 200
    kept = documents.document(3)
    again = {"why": "another reason", "act": "unfitted"}
    refused = client.post("/api/jobs/3/close", json=again, headers={"Jentrik-Person": "Bo"})
    assert refused.status_code == 422
    assert "correction" in refused.json()["error"]["message"]
    page = client.post("/jobs/3/close", data=again)
    assert page.status_code == 422
    assert "correction" in page.text
    assert documents.document(3) == kept
    # Opened and closed again it is still the document of the day.
    client.post("/api/jobs/3/open", headers=by)
    assert client.post("/api/jobs/3/close", json=why, headers=by).status_code == 200
    assert documents.document(3) == kept
    assert jobs.job(3).closed_at is not None
