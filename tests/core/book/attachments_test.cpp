// SPDX-License-Identifier: GPL-3.0-or-later
// Pictures and other files in the book: kept, found again, and not lost by what happens around them.
#include <SQLiteCpp/SQLiteCpp.h>

#include <catch2/catch.hpp>

#include "book/book.h"
#include "book/book_format.h"
#include "book/salvage.h"
#include "tests/support/temp_folder.h"

using namespace ash;
using namespace ash::tests;

namespace {

constexpr char kAbcHash[] = "ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad";  // FIPS 180-4, "abc"

struct KeptBook : TempFolder {
  KeptBook() : book(std::move(*Book::create(path("a.ashbook")))) {
    REQUIRE(book.ensurePlace("Panels", {"Mesh", {}, {}, {}, 0}, {"Cores", {}, 0}));
    setup = book.studies()->front().setups.front().id;
  }
  Attachment ofSetup(const std::string& name) const {
    Attachment one;
    one.setup = setup;
    one.name = name;
    one.type = "text/plain";
    return one;
  }
  Book book;
  long long setup = 0;
};

}  // namespace

TEST_CASE("aFileIsKeptWithItsHashAndTimeAndTakenOffAgain") {
  KeptBook kept;
  const auto before = kept.book.edition();
  const auto one = kept.book.attach(kept.ofSetup("a.txt"), "abc");
  REQUIRE(one);
  CHECK(one->hash == kAbcHash);
  CHECK(one->sizeB == 3);
  CHECK(one->added.size() >= 19);
  CHECK(*kept.book.edition() > *before);
  REQUIRE(kept.book.attachments()->size() == 1);
  CHECK(kept.book.attachments()->front().hash == kAbcHash);
  CHECK(*kept.book.attachmentBytes(one->id) == "abc");
  const auto gone = kept.book.detach(one->id);
  REQUIRE(gone);
  CHECK(kept.book.attachments()->empty());
  // Undone: it is the same one, number and time included.
  const auto back = kept.book.attach(*gone, "abc");
  REQUIRE(back);
  CHECK(back->id == one->id);
  CHECK(back->added == one->added);
}

TEST_CASE("aFileOfNothingOfNobodyOrOfTooMuchIsRefused") {
  KeptBook kept;
  CHECK_FALSE(kept.book.attach(kept.ofSetup("a"), ""));
  CHECK_FALSE(kept.book.attach(kept.ofSetup("a"), std::string(static_cast<size_t>(kLargestAttachmentB) + 1, 'x')));
  Attachment nobody = kept.ofSetup("a");
  nobody.setup = 0;
  CHECK_FALSE(kept.book.attach(nobody, "x"));
  nobody.setup = 77;
  CHECK_FALSE(kept.book.attach(nobody, "x"));
  nobody.setup = 0;
  nobody.run = "rnone";
  CHECK_FALSE(kept.book.attach(nobody, "x"));
  CHECK(kept.book.attachments()->empty());
}

TEST_CASE("severalFilesAreKeptAllOrNone") {
  KeptBook kept;
  Attachment lost = kept.ofSetup("b.txt");
  lost.setup = 77;
  CHECK_FALSE(kept.book.attach({{kept.ofSetup("a.txt"), "abc"}, {lost, "def"}}));
  CHECK_FALSE(kept.book.attach({{kept.ofSetup("a.txt"), "abc"}, {kept.ofSetup("c.txt"), ""}}));
  CHECK(kept.book.attachments()->empty());
  const auto both = kept.book.attach({{kept.ofSetup("a.txt"), "abc"}, {kept.ofSetup("b.txt"), "def"}});
  REQUIRE(both);
  CHECK((*both)[0].hash == kAbcHash);
  CHECK(kept.book.attachments()->size() == 2);
}

TEST_CASE("whatIsSaidOfAFileIsChangedAndWhatItWasIsTold") {
  KeptBook kept;
  Attachment wanted = kept.ofSetup("a.txt");
  wanted.text = "before";
  const auto one = kept.book.attach(wanted, "abc");
  const auto edition = kept.book.edition();
  CHECK(*kept.book.describe(one->id, "the hinge") == "before");
  CHECK(kept.book.attachments()->front().text == "the hinge");
  CHECK(*kept.book.edition() > *edition);
  CHECK_FALSE(kept.book.describe(99, "x"));
}

TEST_CASE("aSetupWithAPictureIsNotRemovedByAnEdit") {
  KeptBook kept;
  const auto one = kept.book.attach(kept.ofSetup("a"), "abc");
  const Study before = kept.book.studies()->front();
  Study after = before;
  after.setups.clear();
  const auto refused = kept.book.putStudy(before, after);
  REQUIRE_FALSE(refused);
  CHECK(refused.error().message.find("Mesh") != std::string::npos);
  CHECK_FALSE(kept.book.removeStudy(before.id));
  CHECK(kept.book.attachments()->size() == 1);
  REQUIRE(kept.book.detach(one->id));
  CHECK(kept.book.putStudy(before, after));
}

TEST_CASE("bytesThatAreNoLongerWhatWasKeptAreTold") {
  KeptBook kept;
  const auto one = kept.book.attach(kept.ofSetup("a.txt"), "abc");
  CHECK(kept.book.check()->empty());
  SQLite::Database(kept.path("a.ashbook"), SQLite::OPEN_READWRITE).exec("UPDATE attachment SET content = x'00'");
  CHECK_FALSE(kept.book.attachmentBytes(one->id));
  REQUIRE(kept.book.check()->size() == 1);
  CHECK(kept.book.check()->front().find("a.txt") != std::string::npos);
}

TEST_CASE("aBookOfTheSecondFormatHasNoFilesUntilItIsOpenedForWriting") {
  const TempFolder folder;
  {
    SQLite::Database old(folder.path("old.ashbook"), SQLite::OPEN_READWRITE | SQLite::OPEN_CREATE);
    old.exec(std::string(kMigrations[0]) + std::string(kMigrations[1]));
    old.exec("PRAGMA user_version = 2; PRAGMA application_id = " + std::to_string(kBookApplicationId));
    old.exec(
        "INSERT INTO study (id, name, created) VALUES (1, 's', ''); INSERT INTO setup (id, study, name) VALUES (5, 1, "
        "'x')");
  }
  {
    const auto book = Book::open(folder.path("old.ashbook"), BookAccess::ReadOnly);
    REQUIRE(book);
    CHECK(book->attachments()->empty());
    CHECK_FALSE(book->attachmentBytes(1));
  }
  auto book = Book::open(folder.path("old.ashbook"), BookAccess::ReadWrite);
  REQUIRE(book);
  Attachment one;
  one.setup = 5;
  one.name = "a";
  CHECK(book->attach(one, "abc"));
}

TEST_CASE("filesOfADamagedBookAreSavedWithASetupThatWasLost") {
  KeptBook kept;
  REQUIRE(kept.book.attach(kept.ofSetup("large.bin"), std::string(40'000, 'z')));  // over many pages
  REQUIRE(kept.book.attach(kept.ofSetup("a.txt"), "abc"));
  {
    SQLite::Database database(kept.path("a.ashbook"), SQLite::OPEN_READWRITE);
    database.exec(
        "PRAGMA foreign_keys = OFF; DELETE FROM setup; UPDATE attachment SET hash = 'no' WHERE name = 'a.txt'");
    database.exec("PRAGMA wal_checkpoint(TRUNCATE)");
  }
  const auto report = salvageBook(kept.path("a.ashbook"), kept.path("saved.ashbook"));
  REQUIRE(report);
  const auto saved = Book::open(kept.path("saved.ashbook"), BookAccess::ReadOnly);
  REQUIRE(saved);
  REQUIRE(saved->attachments()->size() == 1);
  CHECK(*saved->attachmentBytes(saved->attachments()->front().id) == std::string(40'000, 'z'));
  CHECK(saved->attachments()->front().setup == kept.setup);
  const auto tells = [&](const char* word) {
    return std::any_of(report->losses.begin(), report->losses.end(),
                       [&](const std::string& loss) { return loss.find(word) != std::string::npos; });
  };
  CHECK(tells("a.txt"));
  CHECK(tells("Setup"));
}
