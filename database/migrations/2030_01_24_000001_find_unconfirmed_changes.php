<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

return new class extends Migration
{
    public function up(): void
    {
        // Each refresh looks for changes that no refresh has read yet: few of all there were.
        Schema::table('changes', static fn (Blueprint $table) => $table->index(['change_set_id', 'confirmed_at', 'state', 'done_at'], 'changes_unconfirmed_index'));
    }

    public function down(): void
    {
        Schema::table('changes', static fn (Blueprint $table) => $table->dropIndex('changes_unconfirmed_index'));
    }
};
