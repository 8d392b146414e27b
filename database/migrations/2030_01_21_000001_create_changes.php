<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

return new class extends Migration
{
    public function up(): void
    {
        // Changes that belong together: what somebody has pending in a table, or one change in bulk.
        Schema::create('change_sets', function (Blueprint $table): void {
            $table->id();
            $table->foreignId('endpoint_id')->constrained()->cascadeOnDelete();
            $table->foreignId('environment_id')->constrained()->cascadeOnDelete();
            $table->foreignId('user_id')->constrained()->cascadeOnDelete();
            $table->string('table', 64);
            $table->string('kind', 20);
            $table->string('state', 20);
            // One set of pending changes for each person and table: unique while it is open, and empty once it is not.
            $table->string('open', 100)->nullable()->unique();
            $table->string('about', 300)->default('');
            $table->boolean('is_shared')->default(false);
            $table->foreignId('approved_by')->nullable()->constrained('users')->nullOnDelete();
            $table->dateTime('approved_at', 6)->nullable();
            // How many are sent before it stops by itself: three for real, then all.
            $table->unsignedInteger('first')->nullable();
            $table->string('stop_how', 10)->nullable();
            $table->string('ended', 1000)->nullable();
            $table->string('waits_for', 300)->nullable();
            // Of the process that sends it: only under this number may it write.
            $table->unsignedInteger('attempt')->default(0);
            $table->dateTime('heartbeat_at', 6)->nullable();
            $table->dateTime('started_at', 6)->nullable();
            $table->dateTime('ended_at', 6)->nullable();
            $table->timestamps(6);
            $table->index(['environment_id', 'table', 'state']);
            $table->index(['state', 'heartbeat_at']);
        });
        Schema::create('changes', function (Blueprint $table): void {
            $table->id();
            $table->foreignId('change_set_id')->constrained()->cascadeOnDelete();
            $table->unsignedInteger('number');
            $table->string('kind', 10);
            $table->unsignedSmallInteger('action')->default(0);
            $table->string('state', 10);
            // Of the record: as JSON, and as a hash by which it is found; empty for one that is new.
            $table->text('key')->nullable();
            $table->char('key_hash', 32)->nullable();
            $table->mediumText('before');
            $table->mediumText('after');
            $table->text('given')->default('{}');
            // What the service holds, where somebody else changed it meanwhile.
            $table->mediumText('theirs')->nullable();
            // By column, what does not fit or was refused; "" for what concerns none.
            $table->text('faults')->default('{}');
            $table->string('reason', 1000)->nullable();
            $table->char('mark', 36);
            $table->unsignedSmallInteger('tries')->default(0);
            $table->unsignedSmallInteger('status')->nullable();
            $table->unsignedInteger('milliseconds')->nullable();
            $table->dateTime('sent_at', 6)->nullable();
            $table->dateTime('done_at', 6)->nullable();
            // Since when a refresh that began afterwards has read it.
            $table->dateTime('confirmed_at', 6)->nullable();
            // The record that the service answered with, deflated.
            $table->binary('record')->nullable();
            // The entry of the journal that it takes back.
            $table->unsignedBigInteger('undoes')->nullable();
            $table->unique(['change_set_id', 'number']);
            $table->index(['change_set_id', 'state', 'number']);
            $table->index(['change_set_id', 'key_hash']);
        });
        Schema::table('changes', static fn (Blueprint $table) => $table->index(['done_at', 'confirmed_at']));
        // How often rows were changed since they were read: what is kept of them elsewhere is made anew then.
        Schema::table('kept_tables', static fn (Blueprint $table) => $table->unsignedBigInteger('patches')->default(0)->after('rows'));
        // Who may change what: a person, or everybody of a role.
        Schema::create('change_rights', function (Blueprint $table): void {
            $table->id();
            $table->foreignId('endpoint_id')->constrained()->cascadeOnDelete();
            $table->foreignId('environment_id')->constrained()->cascadeOnDelete();
            $table->foreignId('user_id')->nullable()->constrained()->cascadeOnDelete();
            $table->string('role', 20)->nullable();
            // Kinds of changes, columns and actions; null for all of them.
            $table->json('kinds')->nullable();
            $table->json('columns')->nullable();
            $table->json('actions')->nullable();
            $table->timestamps(6);
            $table->index(['endpoint_id', 'environment_id']);
        });
    }

    public function down(): void
    {
        Schema::table('kept_tables', static fn (Blueprint $table) => $table->dropColumn('patches'));
        Schema::dropIfExists('change_rights');
        Schema::dropIfExists('changes');
        Schema::dropIfExists('change_sets');
    }
};
