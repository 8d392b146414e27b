<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

return new class extends Migration
{
    public function up(): void
    {
        // Earlier states of kept tables. A row is there before its table is.
        Schema::create('table_states', function (Blueprint $table): void {
            $table->id();
            $table->foreignId('environment_id')->constrained()->cascadeOnDelete();
            $table->foreignId('endpoint_id')->constrained()->cascadeOnDelete();
            $table->string('table', 64);
            $table->string('name', 64);
            $table->string('kind', 10);
            $table->boolean('ready')->default(false);
            $table->boolean('copied')->default(false);
            // The run that made the state, or of versions the last one whose rows are among them.
            $table->unsignedBigInteger('run_id')->nullable();
            $table->unsignedBigInteger('replaced_by')->nullable();
            $table->unsignedBigInteger('rows');
            $table->mediumText('columns');
            $table->text('key');
            $table->dateTime('state_at', 6);
            $table->dateTime('until', 6)->nullable();
            $table->unique(['environment_id', 'name']);
            $table->index(['environment_id', 'table', 'kind', 'id']);
        });
    }
};
