"""What is killed while it works: nothing is lost, and nothing stays half done."""

from __future__ import annotations

import os
import signal

from browsing import BrowserCase
from playwright.sync_api import expect

from cenote.site.document import CoverLayer, KitPiece, Placement, SiteDocument, Structure
from cenote.site.ground import Ground
from cenote.weather.moss import Moss
from jobs.models import Job
from sites.models import Site


class KilledWorkerTests(BrowserCase):
    def test_what_it_measured_is_kept_and_the_rest_is_measured_by_the_next(self) -> None:
        crates = tuple(Structure(id=f"c{k}", name=f"Crate {k}", source=KitPiece(item="crate", variant=k % 2),
                                 placement=Placement(position=(k % 6 * 2.1 - 5, 0, k // 6 * 2.1 - 5))) for k in range(36))  # fmt: skip
        moss = CoverLayer(id="moss", name="Moss", cover=Moss(), where=Moss.usual_where(),
                          surfaces=("ground", *(one.id for one in crates)))  # fmt: skip
        document = SiteDocument(ground=Ground(size=(16, 16), relief=0.2), structures=crates, weather=(moss,))
        site = Site.objects.create(owner=self.account, name="Crates", document=document.model_dump(mode="json"))
        self.page.goto(f"{self.server.address}/sites/{site.pk}")
        going = Job.objects.filter(site=site, kind="measure")
        self.eventually(lambda: going.filter(state="running", done__gte=2).exists(), "it is being measured")
        workers = self.server._processes[1:]
        for worker in workers:
            os.killpg(worker.pid, signal.SIGKILL)
            worker.wait()
        self.server.add_worker()
        self.eventually(lambda: going.filter(state="done").exists(), "the next worker has measured the rest")
        self.assertEqual({job.tries for job in going}, {2})
        expect(self.page.get_by_role("status", name="Work going on")).to_be_hidden()
